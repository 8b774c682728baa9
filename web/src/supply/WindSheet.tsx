import { Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Line } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { exactFigure, measure, typed } from "../units/format";
import type { Network, Supply } from "./queries";
import { t } from "./t";

interface Props {
  supply: Supply;
  save: (network: Network) => void;
  pending: boolean;
  error: unknown;
  close: () => void;
}

/** The most wind at which blocks of each system that throws water are irrigated. */
export function WindSheet({ supply, save, pending, error, close }: Props) {
  const { units } = useSignedIn();
  const { network, wind_systems: systems } = supply;
  const [limits, setLimits] = useState<Record<string, string>>(() =>
    Object.fromEntries(
      (network.wind_limits ?? []).map((w) => [w.system, exactFigure(w.most_m_s, units, "wind")]),
    ),
  );
  const [wrong, setWrong] = useState<string[]>([]);
  const send = () => {
    const entered = systems.flatMap((system) => {
      const text = limits[system] ?? "";
      return text.trim() === "" ? [] : [{ system, most: typed(text, units, "wind") }];
    });
    const bad = entered.filter((w) => !(w.most !== null && w.most > 0 && w.most <= 30));
    setWrong(bad.map((w) => w.system));
    if (bad.length > 0) return;
    save({
      ...network,
      wind_limits: [
        // A system that no block has at present keeps its limit.
        ...(network.wind_limits ?? []).filter((w) => !systems.includes(w.system)),
        ...entered.flatMap((w) =>
          w.most === null ? [] : [{ system: w.system, most_m_s: w.most }],
        ),
      ],
    });
  };
  return (
    <FormSheet
      title={t("supply.windLimits")}
      close={close}
      save={send}
      words={t("supply.save")}
      pending={pending}
    >
      <Text fontSize="sm" color="inkSoft" mb="3">
        {t("supply.windHelp")}
      </Text>
      <Grid gap="3">
        {systems.map((system) => (
          <Line
            key={system}
            label={t(`system.${system}`)}
            value={limits[system] ?? ""}
            change={(text) => setLimits({ ...limits, [system]: text })}
            unit={measure(units, "wind").label}
            numeric
            error={wrong.includes(system) ? t("supply.enterWind") : undefined}
          />
        ))}
      </Grid>
      {error !== null && error !== undefined && <Notice error={error} />}
    </FormSheet>
  );
}
