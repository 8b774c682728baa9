import { Box, Button, Grid, Heading, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { problemsOf } from "../form/problems";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import { figure, measure, withUnit, type UnitSystem } from "../units/format";
import { AdviceThen } from "./AdviceThen";
import { FromAndReason } from "./FromAndReason";
import { useAdoptFull, useFullPoints, type HorizonFull } from "./queries";
import { t } from "./t";

interface Props {
  block: number;
  name: string;
  today: string;
}

/** What each horizon has drained to beside the full point in use, and a way to adopt it. */
export function FullPointsSeen({ block, name, today }: Props) {
  const { farm, units, may } = useSignedIn();
  const seen = useFullPoints(farm.slug, block);
  const [adopting, setAdopting] = useState(false);
  if (seen.error) return <Notice error={seen.error} retry={() => void seen.refetch()} />;
  if (!seen.data) return null;
  return (
    <Box as="section" aria-labelledby="full-seen" mb="6">
      <Heading as="h2" id="full-seen" size="lg">
        {t("limits.fullPointsSeen")}
      </Heading>
      {seen.data.length === 0 ? (
        <Text fontSize="sm">{t("limits.noFullPointSeen")}</Text>
      ) : (
        <>
          <Text fontSize="sm" color="inkSoft">
            {t("limits.fullPointsSeenAre")}
          </Text>
          <SeenTable horizons={seen.data} units={units} />
          {may("set_up_ground") && seen.data.some((h) => h.can_be_adopted) && (
            <Button size="sm" variant="outline" mt="2" onClick={() => setAdopting(true)}>
              {t("limits.adoptFullPoints")}
            </Button>
          )}
        </>
      )}
      {adopting && (
        <AdoptSheet
          block={block}
          name={name}
          today={today}
          horizons={seen.data.filter((h) => h.can_be_adopted)}
          close={() => setAdopting(false)}
        />
      )}
    </Box>
  );
}

function SeenTable({ horizons, units }: { horizons: HorizonFull[]; units: UnitSystem }) {
  const theta = measure(units, "theta").label;
  return (
    <Table.ScrollArea tabIndex={0}>
      <Table.Root size="sm" bg="transparent" mt="1">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0">{t("limits.horizon")}</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">
              {t("limits.fullInUse", { unit: theta })}
            </Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">
              {t("limits.fullSeen", { unit: theta })}
            </Table.ColumnHeader>
            <Table.ColumnHeader px="0" textAlign="end">
              {t("limits.restsOn")}
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {horizons.map((h) => (
            <Table.Row key={h.index} bg="transparent">
              <Table.Cell px="0">{depths(h, units)}</Table.Cell>
              <Table.Cell textAlign="end">{figure(h.in_use, units, "theta")}</Table.Cell>
              <Table.Cell textAlign="end" fontWeight="600" whiteSpace="nowrap">
                {t("limits.valueAndRange", {
                  value: figure(h.seen, units, "theta"),
                  low: figure(h.low, units, "theta"),
                  high: figure(h.high, units, "theta"),
                })}
                {h.last_season !== null && (
                  <Text as="span" display="block" fontWeight="400" fontSize="sm">
                    {lastSeasonWords(h, units)}
                  </Text>
                )}
              </Table.Cell>
              <Table.Cell px="0" textAlign="end">
                {t("limits.sensorsAndEvents", { sensors: h.sensors, events: h.events })}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Table.ScrollArea>
  );
}

/** What former seasons have shown, and whether that has moved. */
export function lastSeasonWords(h: HorizonFull, units: UnitSystem): string {
  if (h.last_season === null) return "";
  const before = figure(h.last_season, units, "theta");
  return h.last_season < h.low || h.last_season > h.high
    ? t("limits.lastSeasonMoved", { before })
    : t("limits.lastSeason", { before });
}

/** "0–40 cm". */
function depths(h: HorizonFull, units: UnitSystem): string {
  return `${figure(h.top_mm, units, "depth")}–${withUnit(h.bottom_mm, units, "depth")}`;
}

interface SheetProps extends Props {
  horizons: HorizonFull[];
  close: () => void;
}

function AdoptSheet({ block, name, today, horizons, close }: SheetProps) {
  const { farm, units } = useSignedIn();
  const adopt = useAdoptFull(farm.slug, block);
  const [chosen, setChosen] = useState(() => horizons.map((h) => h.index));
  const [from, setFrom] = useState(today);
  const [reason, setReason] = useState("");
  return (
    <FormSheet
      title={t("limits.adoptFullPointsOf", { name })}
      close={close}
      save={() =>
        adopt.mutate({ horizons: chosen, from_on: from || null, reason }, { onSuccess: close })
      }
      words={t("limits.adopt")}
      pending={adopt.isPending}
      disabled={chosen.length === 0}
    >
      <Text fontSize="sm" mb="3">
        {t("limits.adoptingMeans")}
      </Text>
      <Grid gap="3">
        {horizons.map((h) => (
          <Tick
            key={h.index}
            label={t("limits.fromTo", {
              depths: depths(h, units),
              before: figure(h.in_use, units, "theta"),
              after: withUnit(h.seen, units, "theta"),
            })}
            on={chosen.includes(h.index)}
            change={(on) =>
              setChosen(on ? [...chosen, h.index] : chosen.filter((k) => k !== h.index))
            }
          />
        ))}
        <FromAndReason
          from={from}
          setFrom={setFrom}
          reason={reason}
          setReason={setReason}
          problems={problemsOf(adopt.error)}
        />
      </Grid>
      {chosen.length > 0 && <AdviceThen block={block} change={{ full_horizons: chosen }} />}
      {adopt.error && <Notice error={adopt.error} />}
    </FormSheet>
  );
}
