import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { figure, withUnit } from "../units/format";
import type { BlockData } from "./queries";
import { refillDay } from "./refillDay";
import { t } from "./t";

type Method = BlockData["estimates"][number];

const METHODS = {
  sensors: t("block.bySensors"),
  balance: t("block.byWaterBalance"),
  combined: t("block.byBoth"),
} as const;
const ORDER = ["sensors", "balance", "combined"] as const;

/** A share of the available water as a place in the bar, percent. */
function place(mm: number, taw: number): number {
  return Math.min(Math.max((100 * mm) / taw, 0), 100);
}

interface Props {
  estimates: Method[];
  /** Null where they are not known, as of an advice on record. */
  limits: BlockData["limits"];
  time: FarmTime;
}

/** How much is missing by each way of estimating it, beside the line at which it is too much. */
export function Deficits({ estimates, limits, time }: Props) {
  const { units } = useSignedIn();
  if (estimates.length === 0) return null;
  const methods = ORDER.flatMap((name) => estimates.filter((w) => w.estimate_from === name));
  return (
    <Box as="section" mb="6" aria-labelledby="deficits">
      <Heading as="h2" id="deficits" size="lg">
        {t("block.deficitNow")}
      </Heading>
      {limits && (
        <Text color="inkSoft" fontSize="sm" mb="1">
          {t("block.barsUpToTaw", {
            taw: withUnit(limits.taw_mm, units, "water"),
            raw: withUnit(limits.raw_mm, units, "water"),
          })}
        </Text>
      )}
      {methods.map((m) => (
        <Box key={m.estimate_from} py="1.5" borderTopWidth="1px" borderColor="rule">
          <Flex justify="space-between" gap="3" fontWeight={m.in_force ? "700" : "400"}>
            <span>
              {METHODS[m.estimate_from]}
              {m.in_force && ` ${t("block.inForce")}`}
            </span>
            <Text as="span" whiteSpace="nowrap">
              {m.deficit_mm === null
                ? t("block.noData")
                : t("block.deficitWithSpread", {
                    deficit: figure(m.deficit_mm, units, "water"),
                    sigma: withUnit(m.sigma_mm, units, "water"),
                  })}
            </Text>
          </Flex>
          {m.deficit_mm !== null && (
            <Flex align="center" gap="3">
              {limits && <Bar mm={m.deficit_mm} limits={limits} strong={m.in_force} />}
              <Text fontSize="sm" color="inkSoft" whiteSpace="nowrap" minW="110px" textAlign="end">
                {refill(m, time)}
              </Text>
            </Flex>
          )}
        </Box>
      ))}
    </Box>
  );
}

function refill(method: Method, time: FarmTime): string {
  if (method.days_left === 0) return t("block.belowRefill");
  return t("block.refillOn", { day: refillDay(method.days_left, time) });
}

interface BarProps {
  mm: number;
  limits: NonNullable<BlockData["limits"]>;
  strong: boolean;
}

/** What is missing of the available water, with a tick at the refill point. */
function Bar({ mm, limits, strong }: BarProps) {
  return (
    <Box position="relative" flex="1" h="10px" bg="bed" aria-hidden>
      <Box
        position="absolute"
        insetY="0"
        left="0"
        bg={mm > limits.raw_mm ? "rust" : strong ? "water" : "waterMid"}
        style={{ width: `${place(mm, limits.taw_mm)}%` }}
      />
      <Box
        position="absolute"
        top="-3px"
        bottom="-3px"
        w="2px"
        bg="ink"
        style={{ left: `${place(limits.raw_mm, limits.taw_mm)}%` }}
      />
    </Box>
  );
}
