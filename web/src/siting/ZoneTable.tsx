import { Box, Button, Flex, Heading, Input, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Choice } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { figure, measure, number } from "../units/format";
import { useChangeSiting, type Siting } from "./queries";
import { t } from "./t";
import { zoneName } from "./words";

const LEVELS = {
  all: "siting.allYears",
  dry: "siting.dryYears",
  usual: "siting.usualYears",
  wet: "siting.wetYears",
} as const;

/** The block's zones: how many, what each yields by kind of year, named by a person. */
export function ZoneTable({ siting, block }: { siting: Siting; block: number }) {
  const { farm, units, may } = useSignedIn();
  const change = useChangeSiting(farm.slug, block);
  const [names, setNames] = useState<string[]>(siting.zones.map((z) => z.name));
  const editable = may("set_up_ground");
  if (siting.zones.length === 0) return null;
  const levels = (["all", "dry", "usual", "wet"] as const).filter((k) =>
    siting.zones.some((z) => z.level[k] !== undefined),
  );
  const layers = Object.keys(siting.zones[0]?.medians ?? {});
  const changed = siting.zones.some((z, i) => (names[i] ?? "") !== z.name);
  return (
    <Box as="section" mt="6">
      <Heading as="h2" size="md">
        {t("siting.zones")}
      </Heading>
      <Flex gap="4" align="end" wrap="wrap">
        <Box w="240px">
          <Choice
            label={t("siting.numberOfZones")}
            value={String(siting.settings.zone_count ?? "")}
            disabled={!editable || change.isPending}
            change={(n) =>
              change.mutate({ ...siting.settings, zone_count: n === "" ? null : Number(n) })
            }
          >
            <option value="">{t("siting.asSuggested", { count: siting.suggested ?? 1 })}</option>
            {[1, 2, 3, 4, 5, 6].map((n) => (
              <option key={n} value={n}>
                {n}
                {siting.index[n] === undefined
                  ? ""
                  : ` (${t("siting.silhouette", { index: number(siting.index[n], 2) })})`}
              </option>
            ))}
          </Choice>
        </Box>
        <Text fontSize="sm" color="inkSoft" maxW="56ch">
          {t("siting.silhouetteHelp")}
        </Text>
      </Flex>
      <Table.ScrollArea tabIndex={0} mt="2">
        <Table.Root size="sm" bg="transparent">
          <Table.Header>
            <Table.Row bg="transparent">
              <Table.ColumnHeader px="0">{t("siting.zone")}</Table.ColumnHeader>
              <Table.ColumnHeader textAlign="end">
                {t("siting.area", { unit: measure(units, "area").label })}
              </Table.ColumnHeader>
              {levels.map((k) => (
                <Table.ColumnHeader key={k} textAlign="end">
                  {t(LEVELS[k])}
                </Table.ColumnHeader>
              ))}
              {layers.map((name) => (
                <Table.ColumnHeader key={name} textAlign="end">
                  {name}
                </Table.ColumnHeader>
              ))}
              <Table.ColumnHeader />
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {siting.zones.map((zone, i) => (
              <Table.Row key={zone.zone} bg="transparent">
                <Table.Cell px="0">
                  {editable ? (
                    <Input
                      size="xs"
                      bg="sheet"
                      w="130px"
                      aria-label={t("siting.nameOf", { zone: zoneName(zone) })}
                      placeholder={zoneName(zone)}
                      value={names[i] ?? ""}
                      onChange={(e) =>
                        setNames(
                          siting.zones.map((_, k) => (k === i ? e.target.value : (names[k] ?? ""))),
                        )
                      }
                    />
                  ) : (
                    zoneName(zone)
                  )}
                </Table.Cell>
                <Table.Cell textAlign="end">{figure(zone.area_m2, units, "area", 1)}</Table.Cell>
                {levels.map((k) => (
                  <Table.Cell key={k} textAlign="end">
                    {number(zone.level[k], 0)} %
                  </Table.Cell>
                ))}
                {layers.map((name) => (
                  <Table.Cell key={name} textAlign="end">
                    {number(zone.medians[name], 1)}
                  </Table.Cell>
                ))}
                <Table.Cell>
                  {zone.flips && t("siting.classFlipFlop")}
                  {editable && i > 0 && (
                    <Button
                      size="xs"
                      variant="ghost"
                      px="1"
                      onClick={() =>
                        change.mutate({
                          ...siting.settings,
                          merged: { ...siting.settings.merged, [zone.zone]: 0 },
                        })
                      }
                    >
                      {t("siting.mergeInto", { zone: zoneName(siting.zones[0] ?? zone) })}
                    </Button>
                  )}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
      {editable && changed && (
        <Button
          mt="2"
          size="sm"
          loading={change.isPending}
          onClick={() => change.mutate({ ...siting.settings, zone_names: names })}
        >
          {t("siting.saveNames")}
        </Button>
      )}
      {change.error && <Notice error={change.error} />}
    </Box>
  );
}
