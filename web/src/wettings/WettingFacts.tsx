import { Box, Flex, Table, Text } from "@chakra-ui/react";
import { ink } from "../theme/system";
import { shownDay } from "../time/enteredDate";
import type { FarmTime } from "../time/farmTime";
import { withUnit, type UnitSystem } from "../units/format";
import {
  amount,
  began,
  drained,
  frontSpeed,
  reached,
  reachedBetween,
  foundAgain,
  source,
} from "./describe";
import type { Wetting } from "./queries";
import { t } from "./t";

interface Props {
  wettings: Wetting[];
  time: FarmTime;
  units: UnitSystem;
}

/** What is known of one event, or of two side by side. */
export function WettingFacts({ wettings, time, units }: Props) {
  return (
    <Table.ScrollArea tabIndex={0}>
      <Table.Root size="sm" bg="transparent" maxW={wettings.length > 1 ? "none" : "640px"}>
        <Table.Body>
          {FACTS.map(({ name, say }) => (
            <Table.Row key={name} bg="transparent">
              <Table.ColumnHeader
                scope="row"
                px="1"
                fontWeight="400"
                color="inkSoft"
                w={{ base: "34%", md: "190px" }}
                whiteSpace="normal"
              >
                {name}
              </Table.ColumnHeader>
              {wettings.map((w) => (
                <Table.Cell key={w.id} px="1" whiteSpace="normal">
                  {say(w, time, units)}
                </Table.Cell>
              ))}
            </Table.Row>
          ))}
          <Table.Row bg="transparent">
            <Table.ColumnHeader
              scope="row"
              px="1"
              fontWeight="400"
              color="inkSoft"
              verticalAlign="top"
            >
              {t("wettings.byLayer")}
            </Table.ColumnHeader>
            {wettings.map((w) => (
              <Table.Cell key={w.id} px="1" verticalAlign="top" whiteSpace="normal">
                <Layers wetting={w} most={mostRise(wettings)} time={time} units={units} />
              </Table.Cell>
            ))}
          </Table.Row>
        </Table.Body>
      </Table.Root>
    </Table.ScrollArea>
  );
}

interface Fact {
  name: string;
  say: (wetting: Wetting, time: FarmTime, units: UnitSystem) => string;
}

const FACTS: Fact[] = [
  { name: t("wettings.began"), say: (w, time) => began(w, time) },
  { name: t("wettings.from"), say: cameFrom },
  {
    name: t("wettings.applied"),
    say: (w, _, units) => amount(w.given_mm, w.given_sigma_mm, units),
  },
  {
    name: t("wettings.depthReached"),
    say: (w, _, units) => `${reached(w, units)}, ${reachedBetween(w, units)}`,
  },
  { name: t("wettings.roots"), say: (w, _, units) => withUnit(w.root_mm, units, "depth") },
  {
    name: t("wettings.stored"),
    say: (w, time, units) =>
      t("wettings.by", {
        amount: amount(w.stored_mm, w.stored_sigma_mm, units),
        when: time.full(new Date(w.settled_at)),
      }),
  },
  {
    name: t("wettings.usedMeanwhile"),
    say: (w, _, units) => withUnit(w.used_mm, units, "water"),
  },
  { name: t("wettings.found"), say: (w, _, units) => foundAgain(w, units) },
  {
    name: t("wettings.passed"),
    say: (w, _, units) => amount(w.passed_mm, w.passed_sigma_mm, units),
  },
  { name: t("wettings.drained"), say: (w, time) => drained(w, time) },
  { name: t("wettings.speed"), say: (w, _, units) => frontSpeed(w, units) },
];

function cameFrom(w: Wetting, time: FarmTime, units: UnitSystem): string {
  const irrigations = w.irrigations.map((s) =>
    t("wettings.irrigationFrom", {
      from: time.full(new Date(s.starts_at)),
      until: time.clock(new Date(s.ends_at)),
      depth: withUnit(s.gross_mm, units, "water"),
    }),
  );
  const rain = w.rain_days.map((day) => t("wettings.rainOn", { day: shownDay(day) }));
  return [...irrigations, ...rain].join("; ") || source(w);
}

function mostRise(wettings: Wetting[]): number {
  return Math.max(...wettings.flatMap((w) => w.sensors.map((s) => s.rise ?? 0)), 0.001);
}

const BAR = 70;

/** How far each sensor rose, and when the water came to it. */
function Layers({
  wetting,
  most,
  time,
  units,
}: {
  wetting: Wetting;
  most: number;
  time: FarmTime;
  units: UnitSystem;
}) {
  return (
    <Flex direction="column" gap="0.5">
      {wetting.sensors.map((s) => (
        <Flex key={s.depth_mm} columnGap="2" align="center" wrap="wrap">
          <Text as="span" w="52px" textAlign="end" whiteSpace="nowrap">
            {withUnit(s.depth_mm, units, "depth")}
          </Text>
          <svg width={BAR} height={12} aria-hidden focusable="false">
            <rect width={BAR} height={12} fill={ink("bed")} />
            <rect width={(Math.max(s.rise ?? 0, 0) / most) * BAR} height={12} fill={ink("water")} />
          </svg>
          <Text as="span" whiteSpace="nowrap">
            {s.rise === null ? t("wettings.notKnown") : `+${withUnit(s.rise, units, "theta")}`}
          </Text>
          <Box as="span" color="inkSoft">
            {s.arrived_by === null
              ? t("wettings.noAnswer")
              : t("wettings.arrived", { when: time.full(new Date(s.arrived_by)) })}
          </Box>
        </Flex>
      ))}
    </Flex>
  );
}
