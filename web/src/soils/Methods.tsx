import { Box, Table, Text } from "@chakra-ui/react";
import type { Schemas } from "../api/client";
import { useSignedIn } from "../session/context";
import { figure, number, UNKNOWN, type UnitSystem } from "../units/format";
import type { HorizonOut } from "./queries";
import { t } from "./t";

export const METHOD_NAMES: Record<Schemas["LimitMethod"], string> = {
  regression: t("soils.textureRegressionSaxtonRawls"),
  "class means": t("soils.classMeansVanGenuchten"),
  rosetta: t("soils.rosettaVanGenuchten"),
  book: t("soils.publishedValueByClassFao56"),
  measured: t("soils.measuredAtFullAnd1500Kpa"),
  fitted: t("soils.fittedToYourPoints"),
  learned: t("soils.estimatedFromTheField"),
};

/** Available water per metre of soil, or per foot, with its uncertainty. */
export function holds(
  mmPerMetre: number | null | undefined,
  sigma: number | null | undefined,
  units: UnitSystem,
): string {
  if (mmPerMetre === null || mmPerMetre === undefined) return UNKNOWN;
  const each = (v: number) =>
    units === "metric" ? number(v, 0) : figure(v * 0.3048, "us", "water");
  const spread = sigma === null || sigma === undefined ? "" : ` ± ${each(sigma)}`;
  return t("soils.eachSpreadUnitsMm", {
    each: each(mmPerMetre),
    spread,
    units: units === "metric" ? "yes" : "no",
  });
}

interface Props {
  horizon: HorizonOut;
  method: string;
  choose: (method: string) => void;
}

/** Every method's limits beside each other; the one chosen is in force. */
export function Methods({ horizon, method, choose }: Props) {
  const { units } = useSignedIn();
  return (
    <Table.Root size="sm" bg="transparent" aria-label={t("soils.methods")}>
      <Table.Header>
        <Table.Row bg="transparent">
          <Table.ColumnHeader px="0">{t("soils.limitsFrom")}</Table.ColumnHeader>
          <Table.ColumnHeader px="1" textAlign="end">
            {t("soils.full")}
          </Table.ColumnHeader>
          <Table.ColumnHeader px="1" textAlign="end">
            {t("soils.wilting")}
          </Table.ColumnHeader>
          <Table.ColumnHeader px="0" textAlign="end">
            {t("soils.holds")}
          </Table.ColumnHeader>
        </Table.Row>
      </Table.Header>
      <Table.Body>
        {horizon.methods.map((m) => {
          const on = m.method === method;
          return (
            <Table.Row key={m.method} bg="transparent" fontWeight={on ? "700" : "400"}>
              <Table.Cell px="0">
                <label style={{ display: "flex", gap: "8px", cursor: "pointer" }}>
                  <input
                    type="radio"
                    name="method"
                    checked={on}
                    onChange={() => choose(m.method)}
                    aria-label={METHOD_NAMES[m.method]}
                  />
                  <Box as="span">
                    {METHOD_NAMES[m.method]}
                    {on && ` ${t("soils.inForce")}`}
                    {m.problem && (
                      <Text as="span" display="block" fontSize="xs" color="inkSoft">
                        {m.problem}
                      </Text>
                    )}
                  </Box>
                </label>
              </Table.Cell>
              <Table.Cell px="1" textAlign="end" verticalAlign="top">
                {number(m.theta_full, 3)}
              </Table.Cell>
              <Table.Cell px="1" textAlign="end" verticalAlign="top">
                {number(m.theta_wilt, 3)}
              </Table.Cell>
              <Table.Cell px="0" textAlign="end" verticalAlign="top" whiteSpace="nowrap">
                {holds(m.available_mm_per_m, m.sigma_mm_per_m, units)}
              </Table.Cell>
            </Table.Row>
          );
        })}
      </Table.Body>
    </Table.Root>
  );
}
