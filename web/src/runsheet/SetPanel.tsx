import { Box, Button, Flex, Grid, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Choice } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { runningTime, withUnit } from "../units/format";
import { isFree, lasting, moved, pinned, removed, split, STRETCH_H, swapped } from "./changes";
import { money, moneyMore } from "../units/money";
import type { BlockSets, SheetData, SheetSet, Why } from "./queries";
import { whenWords } from "./rules";
import { t } from "./t";

interface Props {
  sheet: SheetData;
  set: SheetSet;
  time: FarmTime;
  why: Why | undefined;
  change: (blocks: BlockSets[]) => void;
  saving: boolean;
  mayChange: boolean;
}

/** The chosen irrigation: when and how much, why then, and what can be done with it. */
export function SetPanel({ sheet, set, time, why, change, saving, mayChange }: Props) {
  const { farm, units } = useSignedIn();
  const [other, setOther] = useState("");
  const block = sheet.blocks.find((b) => b.id === set.block_id);
  if (!block) return null;
  const runs = (slot: number) => slot >= set.start && slot < set.start + set.slots;
  const known = sheet.wind_m_s.flatMap((w, slot) => (w !== null && runs(slot) ? [w] : []));
  const wind = known.length > 0 ? Math.max(...known) : null;
  const free = isFree(set) && mayChange;
  const others = sheet.sets.filter((s) => s.id !== set.id && isFree(s));
  const named = (s: SheetSet) =>
    `${sheet.blocks.find((b) => b.id === s.block_id)?.name ?? ""}, ${time.full(new Date(s.starts_at))}`;
  const swapWith = others.find((s) => String(s.id) === other);
  return (
    <Grid templateColumns={{ base: "minmax(0, 1fr)", lg: "1fr 1fr" }} gap="6" mt="4">
      <Box>
        <Heading as="h3" size="md">
          <Link to={`/${farm.slug}/blocks/${block.id}`}>{block.name}</Link>
        </Heading>
        <Text>
          {t("runsheet.setWords", {
            from: time.full(new Date(set.starts_at)),
            to: time.full(new Date(set.ends_at)),
            hours: runningTime(set.hours),
          })}
        </Text>
        <Text fontSize="sm" color="inkSoft">
          {t("runsheet.setFigures", {
            gross: withUnit(set.gross_mm, units, "water"),
            net: withUnit(set.net_mm, units, "water"),
            volume: withUnit(set.volume_m3, units, "volume"),
            flow: withUnit(block.flow_m3_h, units, "flow"),
          })}
        </Text>
        <Text fontSize="sm" color="inkSoft">
          {t("runsheet.mayBring", {
            least: withUnit(block.smallest_mm, units, "water"),
            most: withUnit(block.largest_mm, units, "water"),
          })}
        </Text>
        {set.pulses > 1 && (
          <Text fontSize="sm" color="inkSoft">
            {t("runsheet.inPulses", {
              count: set.pulses,
              on: runningTime((set.hours - (set.pulses - 1) * set.pause_hours) / set.pulses),
              pause: runningTime(set.pause_hours),
            })}
          </Text>
        )}
        {wind !== null && (
          <Text fontSize="sm" color={block.windy.some(runs) ? "rust" : "inkSoft"}>
            {t("runsheet.windUpTo", { wind: withUnit(wind, units, "wind") })}
          </Text>
        )}
        {free && (
          <Flex gap="2" mt="3" wrap="wrap" align="center">
            <Button
              size="xs"
              variant="outline"
              disabled={saving}
              onClick={() => change([moved(sheet, set, set.start - 1)])}
            >
              {t("runsheet.earlier")}
            </Button>
            <Button
              size="xs"
              variant="outline"
              disabled={saving}
              onClick={() => change([moved(sheet, set, set.start + 1)])}
            >
              {t("runsheet.later")}
            </Button>
            <Button
              size="xs"
              variant="outline"
              disabled={saving}
              onClick={() => change([lasting(sheet, set, set.hours - STRETCH_H)])}
            >
              {t("runsheet.shorter")}
            </Button>
            <Button
              size="xs"
              variant="outline"
              disabled={saving}
              onClick={() => change([lasting(sheet, set, set.hours + STRETCH_H)])}
            >
              {t("runsheet.longer")}
            </Button>
            <Button
              size="xs"
              variant="outline"
              disabled={saving}
              onClick={() => change([split(sheet, set)])}
            >
              {t("runsheet.split")}
            </Button>
            <Button
              size="xs"
              variant="outline"
              disabled={saving}
              onClick={() => change([removed(sheet, set)])}
            >
              {t("runsheet.remove")}
            </Button>
            <Tick
              label={t("runsheet.pin")}
              on={set.pinned}
              change={(on) => change([pinned(sheet, set, on)])}
            />
          </Flex>
        )}
        {free && others.length > 0 && (
          <Flex gap="2" mt="3" align="end">
            <Box flex="1" maxW="320px">
              <Choice label={t("runsheet.swapStartsWith")} value={other} change={setOther}>
                <option value="">{t("runsheet.chooseOne")}</option>
                {others.map((s) => (
                  <option key={s.id} value={String(s.id)}>
                    {named(s)}
                  </option>
                ))}
              </Choice>
            </Box>
            <Button
              size="sm"
              variant="outline"
              disabled={!swapWith || saving}
              onClick={() => swapWith && change(swapped(sheet, set, swapWith))}
            >
              {t("runsheet.swap")}
            </Button>
          </Flex>
        )}
      </Box>
      {why && <WhyThen sheet={sheet} time={time} why={why} />}
    </Grid>
  );
}

/** Why the block is irrigated when it is. */
function WhyThen({ sheet, time, why }: { sheet: SheetData; time: FarmTime; why: Why }) {
  const { currency } = sheet;
  const names = (ids: number[]) =>
    ids.flatMap((id) => sheet.blocks.find((b) => b.id === id)?.name ?? []).join(", ");
  const rather = why.rather
    .slice(0, 2)
    .map((r) => `${time.full(new Date(r.starts_at))}, ${runningTime(r.hours)}`)
    .join(" · ");
  const more = why.rather.length - 2;
  return (
    <Box>
      <Heading as="h3" size="md">
        {t("runsheet.whyThen")}
      </Heading>
      {why.in_the_way.length === 0 ? (
        <Text>{t("runsheet.nothingInTheWay")}</Text>
      ) : (
        <>
          <Text>
            {t("runsheet.wouldRather", {
              rather: rather || t("runsheet.notAtAll"),
              more: more > 0 ? t("runsheet.andMoreTimes", { count: more }) : "",
              saved: money(why.cost - why.rather_cost, currency),
            })}
          </Text>
          <Box as="ul" ps="5" fontSize="sm">
            {why.in_the_way.map((w) => (
              <li key={`${w.kind}${w.name}`}>
                {t("runsheet.inTheWay", {
                  what: IN_THE_WAY[w.kind](w.name),
                  who: names(w.block_ids) && t("runsheet.usedBy", { names: names(w.block_ids) }),
                  when: w.slots.length > 0 ? ` · ${whenWords(w.slots, sheet, time)}` : "",
                })}
              </li>
            ))}
          </Box>
        </>
      )}
      <Text fontSize="sm" color="inkSoft" mt="1">
        {[
          why.earlier !== null &&
            t("runsheet.twoHoursEarlier", { money: moneyMore(why.earlier, currency) }),
          why.later !== null &&
            t("runsheet.twoHoursLater", { money: moneyMore(why.later, currency) }),
        ]
          .filter(Boolean)
          .join(" · ")}
      </Text>
    </Box>
  );
}

const IN_THE_WAY: Record<Why["in_the_way"][number]["kind"], (name: string) => string> = {
  source: (name) => t("runsheet.waySource", { name }),
  main: (name) => t("runsheet.wayMain", { name }),
  machine: (name) => t("runsheet.wayMachine", { name }),
  group: (name) => t("runsheet.wayGroup", { name }),
  people: () => t("runsheet.wayPeople"),
  "day licence": (name) => t("runsheet.wayDayLicence", { name }),
  "season licence": (name) => t("runsheet.waySeasonLicence", { name }),
  peak: (name) => t("runsheet.wayPeak", { name }),
  "smallest flow": (name) => t("runsheet.waySmallestFlow", { name }),
  wind: () => t("runsheet.wayWind"),
};
