import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { LinkButton } from "../app/LinkButton";
import { useSignedIn } from "../session/context";
import {
  figure,
  measure,
  number,
  runningTime,
  UNKNOWN,
  withUnit,
  type UnitSystem,
} from "../units/format";
import { clockOf } from "./clock";
import { weekdayName } from "./PartSheet";
import type { Network, SourcePart, SuppliedBlock, Supply } from "./queries";
import { same } from "./sameName";
import { t } from "./t";

function Head({
  title,
  add,
  open,
}: {
  title: string;
  add?: string;
  open?: (() => void) | undefined;
}) {
  return (
    <Flex align="center" gap="4" mt="6" mb="1">
      <Heading as="h2" size="lg">
        {title}
      </Heading>
      {open && add && (
        <Button size="xs" variant="outline" onClick={open}>
          {add}
        </Button>
      )}
    </Flex>
  );
}

function Named({ name, open }: { name: string; open?: (() => void) | undefined }) {
  return open ? <LinkButton onClick={open}>{name}</LinkButton> : <>{name}</>;
}

function hoursWords(source: SourcePart): string {
  const { from_hour: from, to_hour: to, turn } = source;
  if (turn) return t("supply.turnWords", { hours: number(turn.hours, 0), days: turn.every_days });
  return from === 0 && to === 24 ? t("supply.allDay") : `${clockOf(from)}–${clockOf(to)}`;
}

function licenceWords(source: SourcePart, units: UnitSystem): string {
  const volume = (m3: number) => `${figure(m3, units, "volume")} ${measure(units, "volume").label}`;
  const parts = [
    source.day_m3 && t("supply.perDay", { volume: volume(source.day_m3) }),
    source.season_m3 && t("supply.perSeason", { volume: volume(source.season_m3) }),
  ].filter(Boolean);
  return parts.join(", ") || UNKNOWN;
}

/** What it brings beside the peak use of its blocks. */
function capacityWords(capacity: Supply["capacity"][number], units: UnitSystem): ReactNode {
  if (!capacity) return UNKNOWN;
  const words = t("supply.capacityWords", {
    brings: figure(capacity.net_mm_day, units, "waterDay"),
    use: withUnit(capacity.use_mm_day, units, "waterDay"),
  });
  return capacity.keeps_up ? (
    words
  ) : (
    <>
      {words}
      <Text color="rust" fontSize="sm">
        {t("supply.cantKeepUp")}
      </Text>
    </>
  );
}

/** Sources, one a row. */
export function SourceTable(props: {
  supply: Supply;
  open: ((at: number | null) => void) | undefined;
}) {
  const { supply, open } = props;
  const { units } = useSignedIn();
  const sources = supply.network.sources ?? [];
  return (
    <Box as="section">
      <Head
        title={t("supply.sources")}
        add={t("supply.addSource")}
        open={open && (() => open(null))}
      />
      {sources.length === 0 ? (
        <Text color="inkSoft">{t("supply.noSources")}</Text>
      ) : (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("supply.source")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("supply.maximumFlow")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("supply.available")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("supply.licence")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("supply.bringsAndPeak")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("supply.energy")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("supply.tariff")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("supply.blocks")}</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {sources.map((source, k) => (
                <Table.Row key={source.id} bg="transparent">
                  <Table.Cell px="0" fontWeight="600">
                    <Named name={source.name} open={open && (() => open(k))} />
                  </Table.Cell>
                  <Table.Cell textAlign="end">
                    {withUnit(source.flow_m3_h, units, "flow", 0)}
                  </Table.Cell>
                  <Table.Cell>{hoursWords(source)}</Table.Cell>
                  <Table.Cell>{licenceWords(source, units)}</Table.Cell>
                  <Table.Cell>{capacityWords(supply.capacity[k] ?? null, units)}</Table.Cell>
                  <Table.Cell textAlign="end">
                    {(supply.energy_kwh_m3[k] ?? 0) > 0
                      ? `${number(supply.energy_kwh_m3[k], 3)} kWh/m³`
                      : t("supply.gravity")}
                  </Table.Cell>
                  <Table.Cell>{source.tariff ?? UNKNOWN}</Table.Cell>
                  <Table.Cell>
                    {supply.blocks
                      .filter((b) => same(b.supply, source.name))
                      .map((b) => b.name)
                      .join(", ") || UNKNOWN}
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
      {supply.peak_et0_mm_day !== null && sources.length > 0 && (
        <Text fontSize="xs" color="inkSoft" mt="1">
          {t("supply.peakUseIs", { et: withUnit(supply.peak_et0_mm_day, units, "waterDay") })}
        </Text>
      )}
    </Box>
  );
}

/** Mains, groups, machines, people or tariffs: a name and what there is to say of each. */
export function SmallTable(props: {
  title: string;
  empty: string;
  kind: "mains" | "groups" | "machines" | "workers" | "tariffs";
  network: Network;
  open: ((at: number | null) => void) | undefined;
  add: string;
}) {
  const { title, empty, kind, network, open, add } = props;
  const { units } = useSignedIn();
  const rows = SAID[kind](network, units);
  return (
    <Box as="section" minW="200px" flex="1 1 200px">
      <Head title={title} add={add} open={open && (() => open(null))} />
      {rows.length === 0 && (
        <Text color="inkSoft" fontSize="sm">
          {empty}
        </Text>
      )}
      {rows.map(([name, said], k) => (
        <Box key={name} py="1" borderBottomWidth="1px" borderColor="rule">
          <Text fontWeight="600">
            <Named name={name} open={open && (() => open(k))} />
          </Text>
          <Text fontSize="sm" color="inkSoft">
            {said}
          </Text>
        </Box>
      ))}
    </Box>
  );
}

type Said = (network: Network, units: UnitSystem) => [string, ReactNode][];

const SAID: Record<"mains" | "groups" | "machines" | "workers" | "tariffs", Said> = {
  mains: (network, units) =>
    (network.mains ?? []).map((m) => [m.name, withUnit(m.flow_m3_h, units, "flow", 0)]),
  groups: (network) =>
    (network.groups ?? []).map((g) => [
      g.name,
      t("supply.groupWords", { count: g.most_together ?? 1 }),
    ]),
  machines: (network) =>
    (network.machines ?? []).map((m) => [
      m.name,
      t("supply.movingWords", { hours: number(m.moving_hours ?? 0, 1) }),
    ]),
  workers: (network) =>
    (network.workers ?? []).map((w) => [
      w.name,
      t("supply.workerWords", {
        hours: `${clockOf(w.from_hour ?? 6)}–${clockOf(w.to_hour ?? 20)}`,
        days:
          (w.weekdays ?? []).length === 7
            ? t("supply.everyDay")
            : (w.weekdays ?? []).map(weekdayName).join(", "),
        starts: w.starts ?? 2,
      }),
    ]),
  tariffs: (network) =>
    (network.tariffs ?? []).map((one) => {
      const prices = [one.price, ...(one.bands ?? []).map((b) => b.price)];
      const [low, high] = [Math.min(...prices), Math.max(...prices)];
      const currency = network.currency ?? "";
      return [
        one.name,
        t("supply.tariffWords", {
          prices: low === high ? number(low, 3) : `${number(low, 3)}–${number(high, 3)}`,
          unit: `${currency}/kWh`,
          peak:
            (one.peak_price ?? 0) > 0
              ? t("supply.peakWords", { price: number(one.peak_price, 2), unit: `${currency}/kW` })
              : "",
        }),
      ];
    }),
};

/** What work costs and crops are worth. */
export function PriceLines({ supply, open }: { supply: Supply; open: (() => void) | undefined }) {
  const { units } = useSignedIn();
  const { network, blocks } = supply;
  const area = measure(units, "area");
  const currency = network.currency ?? "";
  const crops = new Map(blocks.flatMap((b) => (b.crop_key ? [[b.crop_key, b.crop ?? ""]] : [])));
  const valued = new Map((network.crop_values ?? []).map((v) => [v.crop_key, v.value_ha]));
  const missing = [...crops].filter(([crop]) => !valued.has(crop)).map(([, name]) => name);
  const said = [...crops].flatMap(([crop, name]) => {
    const value = valued.get(crop);
    return value === undefined
      ? []
      : [`${name} ${number((value * area.size) / 10_000, 0)} ${currency}/${area.label}`];
  });
  return (
    <Box as="section">
      <Head title={t("supply.pricesAndValues")} add={t("supply.change")} open={open} />
      <Text fontSize="sm">
        {network.labour_price === null || network.labour_price === undefined
          ? t("supply.workAssumed")
          : t("supply.workPriced", { price: `${number(network.labour_price, 2)} ${currency}/h` })}
      </Text>
      {said.length > 0 && (
        <Text fontSize="sm">{t("supply.yieldWorth", { list: said.join(" · ") })}</Text>
      )}
      {missing.length > 0 && (
        <Text fontSize="sm" color="inkSoft">
          {t("supply.valueMissing", { crops: missing.join(", ") })}
        </Text>
      )}
    </Box>
  );
}

/** Above which wind blocks of which system wait. */
export function WindLines({ supply, open }: { supply: Supply; open: (() => void) | undefined }) {
  const { units } = useSignedIn();
  const limits = new Map((supply.network.wind_limits ?? []).map((w) => [w.system, w.most_m_s]));
  const said = supply.wind_systems.map((system) => {
    const most = limits.get(system);
    const limit = most === undefined ? t("supply.noLimit") : withUnit(most, units, "wind");
    return t("supply.windLine", { system: t(`system.${system}`), limit });
  });
  return (
    <Box as="section">
      <Head title={t("supply.windLimits")} add={t("supply.change")} open={open} />
      <Text fontSize="sm">{said.join(" · ")}</Text>
    </Box>
  );
}

/** Blocks with what they hang on. */
export function BlockTable(props: {
  supply: Supply;
  open: ((block: SuppliedBlock) => void) | undefined;
}) {
  const { supply, open } = props;
  const { units } = useSignedIn();
  const grouped = (supply.network.groups ?? []).length > 0;
  const of = new Map((supply.network.connections ?? []).map((c) => [c.block_id, c]));
  return (
    <Box as="section">
      <Head title={t("supply.blocks")} />
      <Table.ScrollArea tabIndex={0}>
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("supply.block")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("supply.waterSupply")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">{t("supply.draws")}</Table.ColumnHeader>
              <Table.ColumnHeader>{t("supply.mains")}</Table.ColumnHeader>
              {grouped && <Table.ColumnHeader>{t("supply.groups")}</Table.ColumnHeader>}
              <Table.ColumnHeader>{t("supply.sharedMachine")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">{t("supply.peopleToStart")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                {t("supply.workPerIrrigation")}
              </Table.ColumnHeader>
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {supply.blocks.map((b) => {
              const c = of.get(b.id);
              return (
                <Table.Row key={b.id} bg="transparent">
                  <Table.Cell px="0" fontWeight="600">
                    <Named name={b.name} open={open && (() => open(b))} />
                  </Table.Cell>
                  <Table.Cell>{b.supply || UNKNOWN}</Table.Cell>
                  <Table.Cell textAlign="end">{withUnit(b.flow_m3_h, units, "flow", 0)}</Table.Cell>
                  <Table.Cell>{c?.mains?.join(", ") || UNKNOWN}</Table.Cell>
                  {grouped && <Table.Cell>{c?.groups?.join(", ") || UNKNOWN}</Table.Cell>}
                  <Table.Cell>{c?.machine ?? UNKNOWN}</Table.Cell>
                  <Table.Cell textAlign="end">{c?.people ?? 1}</Table.Cell>
                  <Table.Cell textAlign="end">
                    {c?.labour_h === null || c?.labour_h === undefined
                      ? UNKNOWN
                      : runningTime(c.labour_h)}
                  </Table.Cell>
                </Table.Row>
              );
            })}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
    </Box>
  );
}
