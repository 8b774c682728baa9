import { Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { figure, forForm, measure, typed } from "../units/format";
import { useChangeSiting, type ExclusionKind, type Siting } from "./queries";
import { t } from "./t";
import { typedNumber } from "../form/typedNumber";
import { EXCLUDED } from "./words";

interface Props {
  siting: Siting;
  block: number;
  close: () => void;
}

/** How far a probe keeps away from each kind of thing, and what is derived from figures. */
export function DistanceSheet({ siting, block, close }: Props) {
  const { farm, units } = useSignedIn();
  const change = useChangeSiting(farm.slug, block);
  const { settings } = siting;
  const kinds = Object.keys(EXCLUDED) as ExclusionKind[];
  const own = (metres: number | null | undefined) => forForm(metres ?? null, units, "length");
  const [away, setAway] = useState<Partial<Record<ExclusionKind, string>>>(
    Object.fromEntries(kinds.map((k) => [k, own(settings.distances?.[k])])),
  );
  const [derived, setDerived] = useState({
    lane_spacing_m: own(settings.lane_spacing_m),
    row_heading: settings.row_heading === null ? "" : String(settings.row_heading),
    tower_spacing_m: own(settings.tower_spacing_m),
    flood_level_m: own(settings.flood_level_m),
    base_height_m: own(settings.base_height_m),
  });
  const problems = problemsOf(change.error);
  const metres = (text: string, was: number | null | undefined) =>
    typed(text, units, "length", was);
  function save() {
    const distances = Object.fromEntries(
      kinds.flatMap((k) => {
        const value = metres(away[k] ?? "", settings.distances?.[k]);
        return value === null ? [] : [[k, value]];
      }),
    );
    change.mutate(
      {
        ...settings,
        distances,
        lane_spacing_m: metres(derived.lane_spacing_m, settings.lane_spacing_m),
        row_heading: typedNumber(derived.row_heading),
        tower_spacing_m: metres(derived.tower_spacing_m, settings.tower_spacing_m),
        flood_level_m: metres(derived.flood_level_m, settings.flood_level_m),
        base_height_m: metres(derived.base_height_m, settings.base_height_m) ?? 4,
      },
      { onSuccess: close },
    );
  }
  const fields: [keyof typeof derived, string][] = [
    ["row_heading", t("siting.rowHeading")],
    ["lane_spacing_m", t("siting.laneSpacing")],
    ["tower_spacing_m", t("siting.towerSpacing")],
    ["flood_level_m", t("siting.floodLevel")],
    ["base_height_m", t("siting.baseHeight")],
  ];
  const label = measure(units, "length").label;
  return (
    <FormSheet
      title={t("siting.changeDistances")}
      close={close}
      words={t("siting.save")}
      pending={change.isPending}
      save={save}
      size="lg"
    >
      <Text fontSize="sm" mb="3">
        {t("siting.distancesHelp")}
      </Text>
      <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr", md: "1fr 1fr 1fr" }} gap="3">
        {kinds.map((kind) => (
          <Line
            key={kind}
            label={EXCLUDED[kind]}
            value={away[kind] ?? ""}
            change={(v) => setAway({ ...away, [kind]: v })}
            placeholder={figure(siting.usual_distances[kind], units, "length", 0)}
            unit={label}
            error={problems[`distances.${kind}`]}
            numeric
          />
        ))}
        {fields.map(([field, words]) => (
          <Line
            key={field}
            label={words}
            value={derived[field]}
            change={(v) => setDerived({ ...derived, [field]: v })}
            unit={field === "row_heading" ? "°" : label}
            error={problems[field]}
            numeric
          />
        ))}
      </Grid>
      {change.error && <Notice error={change.error} />}
    </FormSheet>
  );
}
