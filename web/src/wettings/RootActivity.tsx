import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { ink } from "../theme/system";
import { figure, withUnit, type UnitSystem } from "../units/format";
import type { Roots } from "./queries";
import { t } from "./t";

const BAR = 110;

/** What each depth loses by day beyond its nights, and how deep the roots feed by that. */
export function RootActivity({ told, units }: { told: Roots; units: UnitSystem }) {
  const most = Math.max(...told.layers.map((l) => l.uptake_mm ?? 0), 0.1);
  return (
    <Box as="section" aria-labelledby="root-activity" mt="3" mb="4">
      <Heading as="h3" id="root-activity" size="md">
        {t("wettings.rootActivity")}
      </Heading>
      <Text>{feeds(told, units)}</Text>
      <Text>{besideAssumed(told, units)}</Text>
      <Flex direction="column" gap="0.5" mt="1">
        {told.layers.map((l) => (
          <Flex key={l.depth_mm} gap="2" align="center">
            <Text as="span" w="52px" textAlign="end">
              {withUnit(l.depth_mm, units, "depth")}
            </Text>
            <svg width={BAR} height={12} aria-hidden focusable="false">
              <rect width={BAR} height={12} fill={ink("bed")} />
              <rect
                width={(Math.max(l.uptake_mm ?? 0, 0) / most) * BAR}
                height={12}
                fill={ink("loam")}
              />
            </svg>
            <Text as="span">
              {l.uptake_mm === null
                ? t("wettings.notKnown")
                : withUnit(Math.max(l.uptake_mm, 0), units, "waterDay")}
            </Text>
          </Flex>
        ))}
      </Flex>
    </Box>
  );
}

function feeds(told: Roots, units: UnitSystem): string {
  if (told.feeds_mm === null)
    return t("wettings.feedsBelow", {
      days: told.days,
      depth: withUnit(told.low_mm, units, "depth"),
    });
  const low = figure(told.low_mm, units, "depth");
  return t("wettings.feedsTo", {
    days: told.days,
    depth: withUnit(told.feeds_mm, units, "depth"),
    range:
      told.high_mm === null
        ? t("wettings.orDeeper", { low })
        : t("wettings.lowToHigh", { low, high: figure(told.high_mm, units, "depth") }),
  });
}

/** Whether the roots that the advice goes by feed where roots are seen to. */
function besideAssumed(told: Roots, units: UnitSystem): string {
  if (told.root_mm === null || told.fit === null) return "";
  const depth = withUnit(told.root_mm, units, "depth");
  const words: Record<typeof told.fit, string> = {
    fits: t("wettings.feedsAsAssumed", { depth }),
    deeper: t("wettings.feedsDeeper", { depth }),
    shallower: t("wettings.feedsShallower", { depth }),
  };
  return words[told.fit];
}
