import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { ink } from "../theme/system";
import { figure, withUnit, type UnitSystem } from "../units/format";
import type { Roots } from "./queries";
import { t } from "./t";

const BAR = 110;

/** What each depth loses by day beyond its nights, and how deep the roots feed by that. */
export function RootActivity({ roots, units }: { roots: Roots; units: UnitSystem }) {
  const most = Math.max(...roots.layers.map((l) => l.uptake_mm ?? 0), 0.1);
  return (
    <Box as="section" aria-labelledby="root-activity" mt="3" mb="4">
      <Heading as="h3" id="root-activity" size="md">
        {t("wettings.rootActivity")}
      </Heading>
      <Text>{feeds(roots, units)}</Text>
      <Text>{besideAssumed(roots, units)}</Text>
      <Flex direction="column" gap="0.5" mt="1">
        {roots.layers.map((l) => (
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

function feeds(roots: Roots, units: UnitSystem): string {
  if (roots.feeds_mm === null)
    return t("wettings.feedsBelow", {
      days: roots.days,
      depth: withUnit(roots.low_mm, units, "depth"),
    });
  const low = figure(roots.low_mm, units, "depth");
  return t("wettings.feedsTo", {
    days: roots.days,
    depth: withUnit(roots.feeds_mm, units, "depth"),
    range:
      roots.high_mm === null
        ? t("wettings.orDeeper", { low })
        : t("wettings.lowToHigh", { low, high: figure(roots.high_mm, units, "depth") }),
  });
}

/** Whether the roots that the advice goes by feed where roots are seen to. */
function besideAssumed(roots: Roots, units: UnitSystem): string {
  if (roots.root_mm === null || roots.fit === null) return "";
  const depth = withUnit(roots.root_mm, units, "depth");
  const words: Record<typeof roots.fit, string> = {
    fits: t("wettings.feedsAsAssumed", { depth }),
    deeper: t("wettings.feedsDeeper", { depth }),
    shallower: t("wettings.feedsShallower", { depth }),
  };
  return words[roots.fit];
}
