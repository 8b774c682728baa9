import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import type { Layout, Preview, Sensor } from "./queries";
import { withKey } from "./roles";
import { ColumnUnit, SensorChoice } from "./SensorChoice";
import { t } from "./t";

interface Props {
  layout: Layout;
  preview: Preview;
  leftOut: Record<string, number>;
  sensors: Sensor[];
  change: (layout: Layout) => void;
  fixed: boolean;
}

/** In a long file: which sensor each name in it stands for. */
export function KeyTable({ layout, preview, leftOut, sensors, change, fixed }: Props) {
  const keys = [
    ...new Set([...preview.keys, ...layout.keys.map((k) => k.key), ...Object.keys(leftOut)]),
  ];
  if (layout.key_columns.length === 0)
    return (
      <Text color="inkSoft" mt="3">
        {t("imports.chooseAboveWhichColumnsNameTheSensor")}
      </Text>
    );
  return (
    <Box mt="4">
      <Heading as="h3" size="sm" mb="1">
        {t("imports.namesInTheFile")}
      </Heading>
      <Flex direction="column" gap="1" maxH="320px" overflowY="auto">
        {keys.map((key) => {
          const use = layout.keys.find((k) => k.key === key);
          const sensor = sensors.find((s) => s.channel_id === use?.channel_id);
          return (
            <Flex key={key} gap="3" align="center">
              <Text w="220px" truncate fontSize="sm">
                {key || "(empty)"}
              </Text>
              <Box w="240px">
                <SensorChoice
                  label={t("imports.standsFor", { key })}
                  value={String(use?.channel_id ?? "")}
                  sensors={sensors}
                  named={String}
                  disabled={fixed}
                  choose={(v) => change(withKey(layout, key, Number(v), sensors))}
                >
                  <option value="">{t("imports.leftOut")}</option>
                </SensorChoice>
              </Box>
              {use && sensor && (
                <ColumnUnit
                  label={t("imports.unitOf", { key })}
                  units={sensor.units}
                  value={use.unit}
                  disabled={fixed}
                  choose={(unit) =>
                    change({
                      ...layout,
                      keys: layout.keys.map((k) => (k.key === key ? { ...k, unit } : k)),
                    })
                  }
                />
              )}
            </Flex>
          );
        })}
      </Flex>
    </Box>
  );
}
