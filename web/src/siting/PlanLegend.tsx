import { Flex, Text } from "@chakra-ui/react";
import { ink } from "../theme/system";
import { number } from "../units/format";
import { CLASSES, RAMP, ZONES } from "./paint";
import type { Siting } from "./queries";
import { t } from "./t";
import type { View } from "./views";
import { STABILITY, zoneName } from "./words";

/** What the plan's colours mean, in words. */
export function PlanLegend({ view, siting }: { view: View; siting: Siting }) {
  const entries =
    view.of === "zones"
      ? siting.zones.map((z) => ({ colour: ZONES[z.zone], words: zoneName(z) }))
      : view.of === "soils"
        ? siting.soils.slice(0, ZONES.length).map((s, i) => ({ colour: ZONES[i], words: s.name }))
        : view.of === "stability"
          ? STABILITY.map((words, i) => ({ colour: CLASSES[i], words })).slice(1)
          : null;
  return (
    <Flex wrap="wrap" columnGap="4" rowGap="1" fontSize="sm" align="center" pb="1">
      {entries ? (
        entries.map(({ colour, words }) => (
          <Flex key={words} align="center" gap="1.5">
            <svg width="14" height="14" aria-hidden>
              <rect width="14" height="14" fill={ink(colour ?? "ink")} />
            </svg>
            {words}
          </Flex>
        ))
      ) : (
        <Flex align="center" gap="2">
          <Text as="span">
            {number(view.data?.low ?? 0, digits(view))} {view.unit}
          </Text>
          <svg width="90" height="14" aria-hidden>
            <defs>
              <linearGradient id="siting-ramp">
                {RAMP.map((token, i) => (
                  <stop key={token} offset={i / (RAMP.length - 1)} stopColor={ink(token)} />
                ))}
              </linearGradient>
            </defs>
            <rect width="90" height="14" fill="url(#siting-ramp)" />
          </svg>
          <Text as="span">
            {number(view.data?.high ?? 0, digits(view))} {view.unit}
          </Text>
        </Flex>
      )}
      <Flex align="center" gap="1.5">
        <svg width="14" height="14" aria-hidden>
          <path d="M0,14 L14,0 M-4,8 L8,-4 M6,18 L18,6" stroke={ink("ink")} />
        </svg>
        {t("siting.noProbeHere")}
      </Flex>
    </Flex>
  );
}

const digits = (view: View) =>
  Math.abs((view.data?.high ?? 0) - (view.data?.low ?? 0)) > 20 ? 0 : 1;
