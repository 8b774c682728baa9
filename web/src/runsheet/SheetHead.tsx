import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, number, type UnitSystem } from "../units/format";
import { money, moneyMore } from "../units/money";
import type { RunSheetData, SheetData } from "./queries";
import { t } from "./t";

interface Props {
  data: RunSheetData;
  sheet: SheetData;
  time: FarmTime;
  units: UnitSystem;
  children: ReactNode;
}

/** Whether all can be kept, in one sentence. */
function headline(sheet: SheetData): string {
  const [first, ...others] = sheet.short;
  if (!first) return t("runsheet.allCanBeKept");
  const name = sheet.blocks.find((b) => b.id === first.block_id)?.name ?? "";
  const lost = money(
    sheet.short.reduce((sum, s) => sum + s.money, 0),
    sheet.currency,
  );
  return others.length === 0
    ? t("runsheet.oneIsShort", { name, lost })
    : t("runsheet.someAreShort", { name, count: others.length, lost });
}

/** What the sheet comes to, and what can be done with it. */
export function SheetHead({ data, sheet, time, units, children }: Props) {
  const { totals, outcome, currency } = sheet;
  const peaks = sheet.sources.filter((s) => s.peak_price > 0);
  const differs = Math.abs(totals.total - outcome.total) >= 0.05;
  const facts = [
    t("runsheet.waterAndEnergy", {
      volume: `${figure(totals.drawn_m3, units, "volume")} ${measure(units, "volume").label}`,
      energy: `${number(totals.energy_kwh, 0)} kWh`,
      cost: money(totals.power + totals.water, currency),
    }),
    outcome.by_urgency_total > totals.total &&
      t("runsheet.cheaperThanByUrgency", {
        money: money(outcome.by_urgency_total - totals.total, currency),
      }),
    peaks.length > 0 &&
      t("runsheet.peakSoFar", {
        draw: peaks.map((s) => `${s.name} ${number(s.peak_so_far_kw, 0)} kW`).join(", "),
        money: money(totals.peak, currency),
      }),
    data.announced
      ? t("runsheet.versionAnnounced", {
          number: data.announced.number,
          when: time.full(new Date(data.announced.made_at)),
          by: data.announced.made_by ?? "",
        })
      : t("runsheet.notAnnouncedYet"),
  ].filter(Boolean);
  return (
    <Flex justify="space-between" align="start" gap="4" wrap="wrap" mb="3">
      <Box minW="0" flex="1 1 420px">
        <Heading as="h2" size="lg">
          {headline(sheet)}
        </Heading>
        <Text fontSize="sm" color="inkSoft">
          {facts.join(" · ")}
        </Text>
        <Text fontSize="sm" color="inkSoft">
          {t("runsheet.plannedAt", { when: time.full(new Date(sheet.made_at)) })}
          {sheet.changed_by &&
            ` · ${t("runsheet.changedBy", {
              by: sheet.changed_by,
              when: time.clock(new Date(sheet.changed_at)),
            })}`}
          {outcome.method === "cheapest fit" && ` · ${t("runsheet.byCheapestFit")}`}
          {differs &&
            ` · ${t("runsheet.againstThePlan", {
              money: moneyMore(totals.total - outcome.total, currency),
            })}`}
          {!differs && outcome.method === "exact" && ` · ${t("runsheet.theBest")}`}
          {!differs &&
            outcome.bound !== null &&
            outcome.method !== "exact" &&
            ` · ${t("runsheet.atMostAboveBest", {
              money: money(outcome.cost - outcome.bound, currency),
              share: number((100 * (outcome.cost - outcome.bound)) / outcome.cost, 1),
            })}`}
        </Text>
      </Box>
      <Flex gap="2" wrap="wrap">
        {children}
      </Flex>
    </Flex>
  );
}

/** Buttons of the head. */
export function HeadButton(props: {
  words: string;
  act: () => void;
  pending?: boolean;
  disabled?: boolean;
  main?: boolean;
}) {
  return (
    <Button
      size="sm"
      variant={props.main ? "solid" : "outline"}
      loading={props.pending ?? false}
      disabled={props.disabled ?? false}
      onClick={props.act}
    >
      {props.words}
    </Button>
  );
}
