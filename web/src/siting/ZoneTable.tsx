import { Box, Button, Flex, Heading, Input, NativeSelect, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Choice } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { figure, measure, number } from "../units/format";
import { useChangeSiting, type Siting, type SitingSettings, type Zone } from "./queries";
import { t } from "./t";
import { zoneName } from "./words";

const LEVELS = {
  all: "siting.allYears",
  dry: "siting.dryYears",
  usual: "siting.usualYears",
  wet: "siting.wetYears",
} as const;

/** The block's zones: how many, what each yields by kind of year, named by a person. */
export function ZoneTable({
  siting,
  block,
  draw,
}: {
  siting: Siting;
  block: number;
  draw: () => void;
}) {
  const { farm, units, may } = useSignedIn();
  const change = useChangeSiting(farm.slug, block);
  // By the zones' own numbers: merged ones leave gaps.
  const [names, setNames] = useState<Record<number, string>>({});
  const editable = may("set_up_ground");
  if (siting.zones.length === 0) return null;
  const levels = (["all", "dry", "usual", "wet"] as const).filter((k) =>
    siting.zones.some((z) => z.level[k] !== undefined),
  );
  const layers = Object.keys(siting.zones[0]?.medians ?? {});
  const nameOf = (zone: Zone) => names[zone.zone] ?? zone.name;
  const changed = siting.zones.some((z) => nameOf(z) !== z.name);
  const edits = siting.settings.zone_edits ?? [];
  const soils = siting.soils.length > 0;
  return (
    <Box as="section" mt="6">
      <Heading as="h2" size="md">
        {t("siting.zones")}
      </Heading>
      <Flex gap="4" align="end" wrap="wrap">
        {soils && siting.layers.some((l) => l.used) && (
          <Box w="240px">
            <Choice
              label={t("siting.zonesFrom")}
              value={siting.settings.zones_from ?? "layers"}
              disabled={!editable || change.isPending}
              change={(from) =>
                change.mutate({
                  ...siting.settings,
                  zones_from: from as SitingSettings["zones_from"],
                })
              }
            >
              <option value="layers">{t("siting.zonesFromLayers")}</option>
              <option value="soils">{t("siting.zonesFromSoils")}</option>
            </Choice>
          </Box>
        )}
        {siting.zones_from === "layers" && (
          <Box w="240px">
            {" "}
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
        )}

        <Text fontSize="sm" color="inkSoft" maxW="56ch">
          {siting.zones_from === "layers" ? t("siting.silhouetteHelp") : t("siting.soilZonesHelp")}
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
            {siting.zones.map((zone) => (
              <Table.Row key={zone.zone} bg="transparent">
                <Table.Cell px="0">
                  {editable ? (
                    <Input
                      size="xs"
                      bg="sheet"
                      w="130px"
                      aria-label={t("siting.nameOf", { zone: zoneName(zone) })}
                      placeholder={zoneName(zone)}
                      value={nameOf(zone)}
                      onChange={(e) => setNames({ ...names, [zone.zone]: e.target.value })}
                    />
                  ) : (
                    zoneName(zone)
                  )}
                  {soils && (
                    <Text fontSize="xs" color="inkSoft" whiteSpace="normal" minW="180px">
                      {sharesOf(zone)}
                    </Text>
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
                  {editable && siting.zones.length > 1 && (
                    <NativeSelect.Root size="xs" w="150px" disabled={change.isPending}>
                      <NativeSelect.Field
                        bg="sheet"
                        aria-label={t("siting.mergeOf", { zone: zoneName(zone) })}
                        value=""
                        onChange={(e) =>
                          change.mutate({
                            ...siting.settings,
                            merged: {
                              ...siting.settings.merged,
                              [zone.zone]: Number(e.target.value),
                            },
                          })
                        }
                      >
                        <option value="">{t("siting.mergeInto")}</option>
                        {siting.zones
                          .filter((z) => z.zone !== zone.zone)
                          .map((z) => (
                            <option key={z.zone} value={z.zone}>
                              {zoneName(z)}
                            </option>
                          ))}
                      </NativeSelect.Field>
                      <NativeSelect.Indicator />
                    </NativeSelect.Root>
                  )}
                </Table.Cell>
              </Table.Row>
            ))}
          </Table.Body>
        </Table.Root>
      </Table.ScrollArea>
      {editable && (
        <Flex gap="3" mt="2" wrap="wrap">
          {changed && (
            <Button
              size="sm"
              loading={change.isPending}
              onClick={() =>
                change.mutate(
                  { ...siting.settings, zone_names: byNumber(siting, nameOf) },
                  { onSuccess: () => setNames({}) },
                )
              }
            >
              {t("siting.saveNames")}
            </Button>
          )}
          <Button size="sm" variant="outline" onClick={draw}>
            {t("siting.drawZone")}
          </Button>
          {edits.length > 0 && (
            <Button
              size="sm"
              variant="outline"
              loading={change.isPending}
              onClick={() => change.mutate({ ...siting.settings, zone_edits: edits.slice(0, -1) })}
            >
              {t("siting.undoZoneEdit")}
            </Button>
          )}
          {Object.keys(siting.settings.merged ?? {}).length > 0 && (
            <Button
              size="sm"
              variant="outline"
              loading={change.isPending}
              onClick={() => change.mutate({ ...siting.settings, merged: {} })}
            >
              {t("siting.undoMerges")}
            </Button>
          )}
        </Flex>
      )}
      {change.error && <Notice error={change.error} />}
    </Box>
  );
}

/** Names at their zones' numbers, with gaps where zones were merged. */
function byNumber(siting: Siting, nameOf: (zone: Zone) => string): string[] {
  const last = Math.max(...siting.zones.map((z) => z.zone));
  return Array.from({ length: last + 1 }, (_, n) => {
    const zone = siting.zones.find((z) => z.zone === n);
    return zone ? nameOf(zone) : "";
  });
}

/** The soils of a zone, the largest share first. */
function sharesOf(zone: Zone): string {
  return Object.entries(zone.soils)
    .filter(([, share]) => share >= 0.01)
    .toSorted(([, a], [, b]) => b - a)
    .map(([name, share]) => `${name} ${number(share * 100, 0)} %`)
    .join(", ");
}
