import { Box, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Choice, Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import type { ConnectionPart, Network, SuppliedBlock } from "./queries";
import { t } from "./t";

interface Props {
  block: SuppliedBlock;
  network: Network;
  save: (connection: ConnectionPart) => void;
  pending: boolean;
  error: unknown;
  close: () => void;
}

/** How a block hangs on the network: mains, groups, a shared machine, people and work. */
export function ConnectionSheet({ block, network, save, pending, error, close }: Props) {
  const { farm } = useSignedIn();
  const now = network.connections?.find((c) => c.block_id === block.id);
  const [mains, setMains] = useState(now?.mains ?? []);
  const [groups, setGroups] = useState(now?.groups ?? []);
  const [machine, setMachine] = useState(now?.machine ?? "");
  const [people, setPeople] = useState(String(now?.people ?? 1));
  const [hours, setHours] = useState(now?.labour_h === null ? "" : String(now?.labour_h ?? ""));
  const [wrong, setWrong] = useState(false);
  const send = () => {
    const count = Number(people);
    const work = hours.trim() === "" ? null : Number(hours.replace(",", "."));
    const bad = !Number.isInteger(count) || (work !== null && !Number.isFinite(work));
    setWrong(bad);
    if (!bad)
      save({
        block_id: block.id,
        mains,
        groups,
        machine: machine || null,
        people: count,
        labour_h: work,
      });
  };
  return (
    <FormSheet
      title={t("supply.connectionOf", { name: block.name })}
      close={close}
      save={send}
      words={t("supply.save")}
      pending={pending}
    >
      <Text fontSize="sm" mb="3">
        {t("supply.suppliedFrom", { supply: block.supply || t("supply.noSupply") })}{" "}
        <Link to={`/${farm.slug}/blocks/${block.id}/setup`}>{t("supply.changeInSetup")}</Link>
      </Text>
      <Grid gap="3">
        <Ticks
          words={t("supply.mainsPassed")}
          names={(network.mains ?? []).map((m) => m.name)}
          chosen={mains}
          change={setMains}
        />
        <Ticks
          words={t("supply.groupsOf")}
          names={(network.groups ?? []).map((g) => g.name)}
          chosen={groups}
          change={setGroups}
        />
        {(network.machines ?? []).length > 0 && (
          <Choice label={t("supply.sharedMachine")} value={machine} change={setMachine}>
            <option value="">{t("supply.none")}</option>
            {(network.machines ?? []).map((m) => (
              <option key={m.name} value={m.name}>
                {m.name}
              </option>
            ))}
          </Choice>
        )}
        <Line
          label={t("supply.peopleToStart")}
          value={people}
          change={setPeople}
          numeric
          help={t("supply.peopleHelp")}
          error={wrong ? t("supply.enterThis") : undefined}
        />
        <Line
          label={t("supply.workPerIrrigation")}
          value={hours}
          change={setHours}
          unit="h"
          numeric
          help={t("supply.workHelp")}
        />
      </Grid>
      {error !== null && error !== undefined && <Notice error={error} />}
    </FormSheet>
  );
}

/** Several of some names to be ticked; nothing where there are none. */
function Ticks(props: {
  words: string;
  names: string[];
  chosen: string[];
  change: (chosen: string[]) => void;
}) {
  const { words, names, chosen, change } = props;
  if (names.length === 0) return null;
  return (
    <Box role="group" aria-label={words}>
      <Text fontSize="sm" fontWeight="500">
        {words}
      </Text>
      {names.map((name) => (
        <Tick
          key={name}
          label={name}
          on={chosen.includes(name)}
          change={(on) => change(on ? [...chosen, name] : chosen.filter((n) => n !== name))}
        />
      ))}
    </Box>
  );
}
