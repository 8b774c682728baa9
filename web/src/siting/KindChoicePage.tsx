import { Box, Grid, Heading, Input, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { Choice } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { useSettled } from "../form/useSettled";
import { useSignedIn } from "../session/context";
import { figure, measure, number, withUnit } from "../units/format";
import { useKindChoice, type KindChoice } from "./queries";
import { t } from "./t";
import { typedNumber } from "../form/typedNumber";

/** Which kind of instrument suits a block: what speaks for each and against, depths, prices. */
export function KindChoicePage() {
  const { farm, units } = useSignedIn();
  const block = Number(useParams().block);
  const [visits, setVisits] = useState("1");
  const [logged, setLogged] = useState(false);
  const [tilled, setTilled] = useState(false);
  const [prices, setPrices] = useState<Partial<Record<KindChoice["kind"], string>>>({});
  const asked = useSettled(
    JSON.stringify({
      visits_a_week: Number(visits),
      logged,
      tilled,
      prices: Object.fromEntries(
        Object.entries(prices).flatMap(([kind, text]) => {
          const price = typedNumber(text);
          return price === null ? [] : [[kind, price]];
        }),
      ),
    }),
    300,
  );
  const found = useKindChoice(farm.slug, block, asked);
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  if (!found.data) return <Loading what={t("siting.loadingKinds")} />;
  const { data } = found;
  const told = [
    data.crop || t("siting.noCrop"),
    data.soil,
    t("siting.rootsTo", { depth: withUnit(data.root_mm, units, "depth") }),
    ...(data.refill_kpa.length > 0
      ? [
          t("siting.refillAt", {
            // Horizons may have the same.
            tension: [...new Set(data.refill_kpa.map((kpa) => figure(kpa, units, "tension")))].join(
              ", ",
            ),
            unit: measure(units, "tension").label,
          }),
        ]
      : []),
    ...(data.ece_ds_m === null ? [] : [t("siting.saltOf", { ece: number(data.ece_ds_m, 1) })]),
  ];
  return (
    <Box maxW="1200px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/blocks/${block}/siting`}>
          {t("siting.whereToPutTheProbe", { block: data.block })}
        </Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700">
        {t("siting.whichKind", { block: data.block })}
      </Heading>
      <Text color="inkSoft" mb="4">
        {told.join(" · ")}
      </Text>
      <Grid
        templateColumns={{ base: "1fr", sm: "220px auto auto" }}
        gap="5"
        alignItems="end"
        justifyContent="start"
      >
        <Choice label={t("siting.visits")} value={visits} change={setVisits}>
          {["0.25", "0.5", "1", "2", "5"].map((n) => (
            <option key={n} value={n}>
              {number(Number(n), Number(n) < 1 ? 2 : 0)}
            </option>
          ))}
        </Choice>
        <Tick label={t("siting.byThemselves")} on={logged} change={setLogged} />
        <Tick label={t("siting.tilledOver")} on={tilled} change={setTilled} />
      </Grid>
      <Table.ScrollArea tabIndex={0} mt="4">
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("siting.kindOfInstrument")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("siting.speaksFor")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("siting.speaksAgainstIt")}</Table.ColumnHeader>
              <Table.ColumnHeader>
                {t("siting.depths", { unit: measure(units, "depth").label })}
              </Table.ColumnHeader>
              <Table.ColumnHeader>{t("siting.yourPrice")}</Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {data.kinds.map((k) => (
              <Table.Row key={k.kind} bg="transparent" verticalAlign="top">
                <Table.Cell px="0" fontWeight="600">
                  {k.name}
                  {k.ruled_out.length > 0 && (
                    <Text fontSize="sm" color="rust">
                      {t("siting.ruledOut")}
                    </Text>
                  )}
                </Table.Cell>
                <Table.Cell whiteSpace="normal">
                  <Reasons words={k.speaks_for} />
                </Table.Cell>
                <Table.Cell whiteSpace="normal">
                  <Reasons words={[...k.ruled_out, ...k.against]} />
                </Table.Cell>
                <Table.Cell>
                  {k.depths_mm.map((d) => figure(d, units, "depth")).join(" ")}
                </Table.Cell>
                <Table.Cell minW="110px">
                  <Input
                    size="sm"
                    bg="sheet"
                    inputMode="decimal"
                    aria-label={t("siting.priceOf", { kind: k.name })}
                    value={prices[k.kind] ?? ""}
                    onChange={(e) => setPrices({ ...prices, [k.kind]: e.target.value })}
                  />
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </Box>
  );
}

function Reasons({ words }: { words: string[] }) {
  return words.length === 0 ? (
    "–"
  ) : (
    <Box as="ul" ps="4" listStyleType="disc">
      {words.map((w) => (
        <li key={w}>{w}</li>
      ))}
    </Box>
  );
}
