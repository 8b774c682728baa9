import { Box, Flex, Heading, NativeSelect, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { money } from "../units/money";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import type { UnitSystem } from "../units/format";
import { number, waterShort } from "../units/format";
import { useFinish, type Finish, type Outcome, type ReserveMethod } from "./queries";
import { t } from "./t";

const CHANCES = [0.5, 0.8, 0.9, 0.95];
const METHODS: Record<ReserveMethod, string> = {
  all: t("finish.allOfIt"),
  reserve: t("finish.keepReserve"),
};
/** Before that, nobody asks for the last irrigation. */
const SHOWN_DAYS = 60;
/** With more to come, the weather until then decides how many there are. */
const FEW = 3;

/** Whether the crop still needs water before it is ripe, and how that was worked out. */
export function LastIrrigation({ block }: { block: number }) {
  const { farm, units } = useSignedIn();
  const [method, setMethod] = useState<ReserveMethod>("all");
  const [chance, setChance] = useState(0.9);
  const found = useFinish(farm.slug, block, method, chance);
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  if (found.isPending) return <Loading what={t("finish.loading")} />;
  const data = found.data;
  if (data.outcome === null || data.days === null || data.days > SHOWN_DAYS) return null;
  return (
    <Box as="section" mt="6" aria-labelledby="last-irrigation">
      <Heading as="h2" id="last-irrigation" size="lg">
        {t("finish.lastIrrigation")}
      </Heading>
      <Flex gap="2" mt="1" wrap="wrap">
        <NativeSelect.Root size="xs" w="auto">
          <NativeSelect.Field
            aria-label={t("finish.method")}
            value={method}
            onChange={(e) => setMethod(e.currentTarget.value === "all" ? "all" : "reserve")}
          >
            {Object.entries(METHODS).map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        <NativeSelect.Root size="xs" w="auto">
          <NativeSelect.Field
            aria-label={t("finish.chance")}
            value={chance}
            onChange={(e) => setChance(Number(e.currentTarget.value))}
          >
            {CHANCES.map((c) => (
              <option key={c} value={c}>
                {t("finish.chanceWords", { percent: number(c * 100, 0) })}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Flex>
      <Answer data={data} outcome={data.outcome} units={units} />
      <Sheet data={data} outcome={data.outcome} units={units} />
    </Box>
  );
}

function Answer({ data, outcome, units }: { data: Finish; outcome: Outcome; units: UnitSystem }) {
  const last = outcome.more.at(-1);
  if (!last) {
    return (
      <Text mt="2">
        <b>{t("finish.finished")}</b>{" "}
        {t("finish.finishedWhy", { spare: waterShort(outcome.spare_mm, units) })}
      </Text>
    );
  }
  if (outcome.more.length > FEW) {
    return <Text mt="2">{t("finish.tooEarly", { depth: total(outcome, units) })}</Text>;
  }
  const without = t("finish.shortWithout", {
    count: outcome.more.length,
    share: number(outcome.short * 100, 0),
    depth: waterShort(outcome.short_mm, units),
  });
  const lost = lossWords(data, outcome.short_loss);
  return (
    <Box mt="2">
      <Text fontWeight="700">
        {outcome.more.length > 1
          ? `${t("finish.more", { count: outcome.more.length, depth: total(outcome, units) })} ${t("finish.theLast")}`
          : t("finish.oneMore")}{" "}
        {setWords(last, data.currency, units)}
      </Text>
      <Text fontSize="sm" color="inkSoft" mt="1">
        {without}
        {lost && `: ${lost}`}.{" "}
        {t("finish.shortAfter", {
          count: outcome.more.length,
          after: number(outcome.short_after * 100, 0),
        })}
      </Text>
    </Box>
  );
}

function setWords(one: Outcome["more"][number], currency: string, units: UnitSystem): string {
  const net = waterShort(one.net_mm, units);
  const gross = waterShort(one.gross_mm, units);
  const last = shownDay(one.last_on);
  const when =
    one.first_on === one.last_on
      ? t("finish.on", { net, gross, day: last })
      : t("finish.between", { net, gross, first: shownDay(one.first_on), last });
  if (one.price === null) return `${when}.`;
  return `${when}. ${t("finish.price", { price: money(one.price, currency) })}`;
}

/** A loss in yield and, where the yield has a price, in money; nothing where none is known. */
function lossWords(data: Finish, loss: number | null): string {
  if (loss === null) return "";
  const share = t("finish.loss", { percent: number(loss * 100, 1) });
  if (data.value === null) return share;
  return `${share}, ${money(loss * data.value, data.currency)}`;
}

function total(outcome: Outcome, units: UnitSystem): string {
  return waterShort(
    outcome.more.reduce((sum, m) => sum + m.net_mm, 0),
    units,
  );
}

/** The arithmetic, as somebody would write it down. */
function Sheet({ data, outcome, units }: { data: Finish; outcome: Outcome; units: UnitSystem }) {
  const rows: [string, number | null, string][] = [
    [
      t("finish.available", {
        expected: waterShort(data.available_mm, units),
        taw: waterShort(data.taw_mm, units),
      }),
      outcome.usable_mm + (data.reserve_mm ?? 0),
      "",
    ],
    [t("finish.reserve"), data.reserve_mm || null, "−"],
    [t("finish.likelyRain"), outcome.rain_mm, "+"],
    [t("finish.planned"), outcome.planned_mm || null, "+"],
    [
      t("finish.cropUse", { on: data.ripe_on ? shownDay(data.ripe_on) : "", days: data.days ?? 0 }),
      outcome.need_mm,
      "−",
    ],
    [
      outcome.spare_mm < 0 ? t("finish.lacking") : t("finish.spare"),
      Math.abs(outcome.spare_mm),
      "=",
    ],
  ];
  return (
    <Box mt="2">
      <Table.Root size="sm" bg="transparent" aria-label={t("finish.how")}>
        <Table.Body>
          {rows
            .filter(([, value]) => value !== null)
            .map(([words, value, sign]) => (
              <Table.Row key={words} bg="transparent" fontWeight={sign === "=" ? "700" : "400"}>
                <Table.Cell px="0">{words}</Table.Cell>
                <Table.Cell px="0" textAlign="end" whiteSpace="nowrap">
                  {sign} {waterShort(value, units)}
                </Table.Cell>
              </Table.Row>
            ))}
        </Table.Body>
      </Table.Root>
      {outcome.more.length <= FEW && (
        <Text fontSize="sm" color="inkSoft" mt="1">
          {data.if_earlier && t("finish.ifEarlier", { outcome: inShort(data.if_earlier, units) })}.{" "}
          {data.if_later && t("finish.ifLater", { outcome: inShort(data.if_later, units) })}.{" "}
          {t("finish.stageHint")}
        </Text>
      )}
      {data.table && (
        <Text fontSize="sm" color="inkSoft" mt="1">
          {t("finish.table", {
            days: Math.round(data.table.days),
            depth: waterShort(data.table.use_mm, units),
          })}
        </Text>
      )}
      <Text fontSize="xs" color="inkSoft" mt="1">
        {t("finish.notBefore")}
      </Text>
    </Box>
  );
}

function inShort(outcome: Outcome, units: UnitSystem): string {
  if (outcome.finished) return t("finish.noMore");
  return t("finish.total", { count: outcome.more.length, depth: total(outcome, units) });
}
