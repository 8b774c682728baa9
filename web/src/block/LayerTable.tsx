import { Box, Heading, Table, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, number, UNKNOWN, type UnitSystem } from "../units/format";
import { fineWater, Unit } from "./FigureTable";
import type { LayerRow } from "./queries";
import vocabulary from "../../../server/base/vocabulary.json";
import { t } from "./t";

const HEADINGS = [
  t("block.sensor"),
  t("block.read"),
  t("block.reading"),
  t("block.waterContent"),
  t("block.represents"),
  t("block.fullWilting"),
  t("block.available"),
  t("block.left"),
  t("block.deficit"),
  t("block.aboveFull"),
];

/** A horizon's texture in words; what is no class of texture as it stands. */
function horizonWords(name: string): string {
  return name in vocabulary.texture ? t(`texture.${name as Schemas["TextureClass"]}`) : name;
}

/* The formula's names as people write them. */
const SIGNS: Record<string, string> = {
  alpha: "α",
  tr: "θr",
  ts: "θs",
  psi: "ψ",
  psi1: "ψ1",
  psi2: "ψ2",
};

function spoken(formula: string): string {
  return formula
    .replaceAll("**", "^")
    .replaceAll(" * ", " × ")
    .replaceAll(" / ", " ÷ ")
    .replace(/\b(alpha|tr|ts|psi1|psi)\b/g, (name) => SIGNS[name] ?? name);
}

/* So many that a person with a calculator comes to the millimetres beside them. */
const THETA_DIGITS = 5;
const DEPTH_DIGITS: Record<UnitSystem, number> = { metric: 1, us: 2 };

const DEPTHS_OF_WATER = new Set([t("block.available"), t("block.deficit"), t("block.aboveFull")]);
const FIGURES = new Set([...DEPTHS_OF_WATER, t("block.left")]);

/** A second line in a cell. */
function Aside({ children }: { children: ReactNode }) {
  return (
    <Text as="span" color="inkSoft" fontSize="xs" display="block">
      {children}
    </Text>
  );
}

/** One figure of a formula, by its sign, with as many digits as a calculator needs. */
function Figure({ symbol, value }: { symbol: string; value: number }) {
  return (
    <Aside>
      {SIGNS[symbol] ?? symbol} {Number(value.toPrecision(6))}
    </Aside>
  );
}

/** A layer that reaches into another soil, where its content is known by the share left alone. */
function sameAsSensor(row: LayerRow): string {
  const between = row.fraction !== null && row.fraction > 0 && row.fraction < 1;
  return between ? t("block.sameTension") : t("block.sameShare");
}

/** The figures of a retention curve, each on its line, and the gravel that is taken off. */
function Curve({ row }: { row: LayerRow }) {
  return (
    <>
      {row.equal.map((at) => (
        <Figure key={at.symbol} symbol={at.symbol} value={at.value} />
      ))}
      {row.equal_kpa !== null && <Figure symbol="psi2" value={row.equal_kpa} />}
      {row.curve.map((at) => (
        <Figure key={at.symbol} symbol={at.symbol} value={at.value} />
      ))}
      {row.gravel > 0 && (
        <Aside>{t("block.gravel", { gravel: number(row.gravel * 100, 0) })}</Aside>
      )}
    </>
  );
}

/** Every sensor: what it said, the soil it speaks for, and the millimetres that makes. */
export function LayerTable({ layers, time }: { layers: LayerRow[]; time: FarmTime }) {
  const { units } = useSignedIn();
  if (layers.length === 0) return null;
  const sites = [...new Set(layers.map((l) => l.site))];
  const tension = layers.find((l) => l.curve.length > 0);
  const watered = layers[0]?.watered ?? 1;
  const across = layers.find((l) => l.equal_formula !== "");
  return (
    <Box as="section" mt="8" aria-labelledby="layers">
      <Heading as="h2" id="layers" size="lg">
        {t("block.readingsConvertedToWaterDepth")}
      </Heading>
      <Text color="inkSoft" fontSize="sm" mb="2">
        {t("block.leftWaterContentWiltingFullWilting")}
        {watered < 1 &&
          ` ${t("block.ofTheGroundThatIsWetted", { watered: number(watered * 100, 0) })}`}
        {t("block.deficitAvailable1LeftWithLeftKept")}
        {tension &&
          ` ${t("block.aTensionKpaBecomesWaterContentBy", { curveFormula: spoken(tension.curve_formula) })}`}
        {across &&
          ` ${t("block.whereASensorRepresentsAnotherSoilAs", { formula: spoken(across.equal_formula) })}`}
      </Text>
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              {HEADINGS.map((h) => (
                <Table.ColumnHeader
                  key={h}
                  px="1"
                  whiteSpace="nowrap"
                  verticalAlign="top"
                  textAlign={FIGURES.has(h) ? "end" : "start"}
                >
                  {h} {DEPTHS_OF_WATER.has(h) && <Unit of={measure(units, "water").label} />}
                </Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {layers.map((l) => (
              <Table.Row
                key={`${l.site}${l.depth_mm}${l.top_mm}`}
                bg="transparent"
                color={l.doubt ? "inkSoft" : "ink"}
              >
                <Table.Cell px="1" whiteSpace="nowrap">
                  {sites.length > 1 && `${l.site}, `}
                  {figure(l.depth_mm, units, "depth")} {measure(units, "depth").label}
                </Table.Cell>
                <Table.Cell px="1" whiteSpace="nowrap">
                  {l.hours === null ? UNKNOWN : time.full(time.at(l.hours))}
                </Table.Cell>
                <Table.Cell px="1" whiteSpace="nowrap">
                  {l.is_tension
                    ? `${figure(l.value, units, "tension", 1)} ${measure(units, "tension").label}`
                    : figure(l.value, units, "theta", 4)}
                </Table.Cell>
                {l.doubt ? (
                  <Table.Cell px="1" colSpan={7} color="rust">
                    {t("block.excluded", { doubt: l.doubt })}
                  </Table.Cell>
                ) : (
                  <>
                    <Table.Cell px="1" whiteSpace="nowrap">
                      {l.theta === null
                        ? sameAsSensor(l)
                        : figure(l.theta, units, "theta", THETA_DIGITS)}
                      {l.curve.length > 0 && <Curve row={l} />}
                    </Table.Cell>
                    <Table.Cell px="1" whiteSpace="nowrap">
                      {figure(l.top_mm, units, "depth", DEPTH_DIGITS[units])}–
                      {figure(l.bottom_mm, units, "depth", DEPTH_DIGITS[units])}{" "}
                      {measure(units, "depth").label}
                      <Aside>{horizonWords(l.horizon)}</Aside>
                    </Table.Cell>
                    <Table.Cell px="1" whiteSpace="nowrap">
                      {figure(l.theta_full, units, "theta", THETA_DIGITS)} –{" "}
                      {figure(l.theta_wilt, units, "theta", THETA_DIGITS)}
                    </Table.Cell>
                    <Table.Cell px="1" textAlign="end">
                      {fineWater(l.available_mm, units)}
                    </Table.Cell>
                    <Table.Cell px="1" textAlign="end">
                      {l.fraction === null ? UNKNOWN : `${number(l.fraction * 100, 1)} %`}
                    </Table.Cell>
                    <Table.Cell px="1" textAlign="end" fontWeight="600">
                      {fineWater(l.deficit_mm, units)}
                    </Table.Cell>
                    <Table.Cell px="1" textAlign="end">
                      {fineWater(l.surplus_mm, units)}
                    </Table.Cell>
                  </>
                )}
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </Box>
  );
}
