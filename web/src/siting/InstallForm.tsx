import { Box, Button, Grid, Heading } from "@chakra-ui/react";
import { useState, type SyntheticEvent } from "react";
import { Notice } from "../app/Notice";
import { Choice, Line } from "../form/Labelled";
import { MomentLine } from "../form/MomentLine";
import { problemsOf } from "../form/problems";
import { useRounds } from "../rounds/queries";
import { useSignedIn } from "../session/context";
import { figure, measure, typed } from "../units/format";
import { useInstall, type SpotSheet } from "./queries";
import { t } from "./t";

/** An instrument put in at a spot, and onto the scout's round. */
export function InstallForm({ sheet }: { sheet: SpotSheet }) {
  const { farm, units } = useSignedIn();
  const install = useInstall(farm.slug, sheet.spot.id);
  const rounds = useRounds(farm.slug);
  const [label, setLabel] = useState("");
  const [depths, setDepths] = useState(
    sheet.usual_depths_mm.map((d) => figure(d, units, "depth")).join(" "),
  );
  const [round, setRound] = useState("");
  const [at, setAt] = useState("");
  const problems = problemsOf(install.error);
  const found = depths.split(/[;\s]+|,\s*/).filter(Boolean);
  const millimetres = found.map((d) => typed(d, units, "depth"));
  const wrong = found.find((_, i) => millimetres[i] === null);

  function submit(event: SyntheticEvent) {
    event.preventDefault();
    if (wrong !== undefined) return;
    install.mutate({
      label,
      kind: sheet.kind,
      depths_mm: millimetres.filter((d) => d !== null),
      round_id: round === "" ? null : Number(round),
      installed_at: at === "" ? null : at,
    });
  }

  return (
    <Box as="form" onSubmit={submit} mt="5" className="not-printed">
      <Heading as="h2" size="md">
        {t("siting.installed")}
      </Heading>
      <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr" }} gap="3" mt="2">
        <Line
          label={t("siting.nameOfInstrument")}
          value={label}
          change={setLabel}
          error={problems["label"]}
          required
        />
        <Line
          label={t("siting.depths", { unit: measure(units, "depth").label })}
          value={depths}
          change={setDepths}
          error={
            wrong === undefined ? problems["depths_mm"] : t("siting.noNumber", { text: wrong })
          }
        />
        <MomentLine
          label={t("siting.installedAt")}
          value={at}
          change={setAt}
          error={problems["at"]}
        />
        <Choice label={t("siting.ontoRound")} value={round} change={setRound}>
          <option value="">{t("siting.noRound")}</option>
          {(rounds.data?.rounds ?? []).map((r) => (
            <option key={r.id} value={r.id}>
              {r.name}
            </option>
          ))}
        </Choice>
      </Grid>
      <Button type="submit" size="sm" mt="3" loading={install.isPending} disabled={!label.trim()}>
        {t("siting.addInstrument")}
      </Button>
      {install.error && <Notice error={install.error} />}
    </Box>
  );
}
