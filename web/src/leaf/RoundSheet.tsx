import { Box, Button, Flex, Grid, Input, NativeSelect, Table, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Refusal } from "../api/client";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Choice, Line } from "../form/Labelled";
import { MomentLine } from "../form/MomentLine";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { localInput } from "../time/localInput";
import vocabulary from "../../../server/base/vocabulary.json";
import { measure, typed, type UnitSystem } from "../units/format";
import { useAddRound, type LeafData, type StemRoundIn } from "./queries";
import { t } from "./t";
import { useUnsentRounds } from "./UnsentRounds";

type Sky = StemRoundIn["sky"];
const SKIES = Object.keys(vocabulary.sky) as NonNullable<Sky>[];
const USUAL_LEAVES = 12;

interface Entry {
  zone: string;
  plant: string;
  read: string;
}

interface Props {
  block: { id: number; name: string };
  leaf: LeafData;
  time: FarmTime;
  close: () => void;
}

/** One leaf for each that the next round asks for, in the order of its zones. */
function blank(leaf: LeafData): Entry[] {
  const wanted = leaf.next_round?.leaves ?? [{ zone: "", leaves: USUAL_LEAVES }];
  return wanted.flatMap((z) =>
    Array.from({ length: z.leaves }, () => ({ zone: z.zone, plant: "", read: "" })),
  );
}

/** What a person typed for a leaf, below zero whether he wrote the minus or not; null if nothing. */
function readOf(entry: Entry, units: UnitSystem): number | null {
  const value = typed(entry.read.replace("−", "-"), units, "stem");
  return value === null ? null : -Math.abs(value);
}

function minutes(text: string): number | null {
  const value = Number(text.trim().replace(",", "."));
  return text.trim() === "" || !Number.isFinite(value) ? null : value;
}

/** A round of leaf readings, written down leaf by leaf. */
export function RoundSheet({ block, leaf, time, close }: Props) {
  const { farm, units } = useSignedIn();
  const add = useAddRound(farm.slug, block.id);
  const unsent = useUnsentRounds();
  const [key] = useState(() => crypto.randomUUID());
  const now = localInput(time);
  const [form, setForm] = useState({
    from: now,
    until: now,
    sky: "clear" as NonNullable<Sky>,
    bagged: "",
    air: "",
    humidity: "",
    note: "",
  });
  const [entries, setEntries] = useState(() => blank(leaf));
  const set = (more: Partial<typeof form>) => setForm((was) => ({ ...was, ...more }));
  const put = (k: number, more: Partial<Entry>) =>
    setEntries((was) => was.map((e, j) => (j === k ? { ...e, ...more } : e)));
  const problems = problemsOf(add.error);
  const zones = leaf.steering?.zones ?? [];
  const filled = entries.flatMap((entry, place) => {
    const mpa = readOf(entry, units);
    return mpa === null ? [] : [{ place, zone: entry.zone, plant: entry.plant, mpa }];
  });
  const problemOf = (place: number) =>
    problems[`leaves.${filled.findIndex((f) => f.place === place)}.mpa`];

  function body(): StemRoundIn {
    const air = minutes(form.air);
    return {
      key,
      started_at: form.from,
      ended_at: form.until,
      sky: form.sky,
      bagged_min: minutes(form.bagged),
      air_c: air === null ? null : units === "us" ? ((air - 32) * 5) / 9 : air,
      humidity: minutes(form.humidity),
      note: form.note,
      leaves: filled.map(({ zone, plant, mpa }) => ({ zone, plant, mpa })),
    };
  }

  /** In a vineyard there is often no signal: the round stays on the phone then. */
  function save() {
    const round = body();
    add.mutate(round, {
      onSuccess: close,
      onError: (error) => {
        if (!(error instanceof Refusal) || error.status !== 0) return;
        const entry = { key, slug: farm.slug, madeAt: Date.now(), block, round, refused: "" };
        void unsent.add(entry).then(close);
      },
    });
  }

  return (
    <FormSheet
      title={t("leaf.roundIn", { name: block.name })}
      close={close}
      save={save}
      words={t("leaf.saveRound", { count: filled.length })}
      pending={add.isPending}
      disabled={filled.length === 0}
    >
      <Box borderLeftWidth="3px" borderColor="rust" pl="3" mb="3">
        <Text fontWeight="700">{t("leaf.chamberCaution")}</Text>
        <Text fontSize="sm">{t("leaf.chamberCautionWords")}</Text>
      </Box>
      <Grid gap="3" templateColumns={{ base: "1fr", sm: "1fr 1fr" }}>
        <MomentLine
          label={t("leaf.firstLeafAt", { zone: time.zone })}
          value={form.from}
          change={(from) => set({ from })}
          error={problems["started_at"]}
        />
        <MomentLine
          label={t("leaf.lastLeafAt", { zone: time.zone })}
          value={form.until}
          change={(until) => set({ until })}
          error={problems["ended_at"]}
        />
        <Choice
          label={t("leaf.sky")}
          value={form.sky}
          change={(sky) => set({ sky: sky as NonNullable<Sky> })}
        >
          {SKIES.map((one) => (
            <option key={one} value={one}>
              {t(`sky.${one}`)}
            </option>
          ))}
        </Choice>
        <Line
          label={t("leaf.baggedFor")}
          value={form.bagged}
          change={(bagged) => set({ bagged })}
          unit={t("leaf.minutes")}
          numeric
          error={problems["bagged_min"]}
        />
        <Line
          label={t("leaf.air")}
          value={form.air}
          change={(air) => set({ air })}
          unit={units === "us" ? "°F" : "°C"}
          numeric
          error={problems["air_c"]}
        />
        <Line
          label={t("leaf.humidity")}
          value={form.humidity}
          change={(humidity) => set({ humidity })}
          unit="%"
          numeric
          error={problems["humidity"]}
        />
      </Grid>
      <Table.Root size="sm" bg="transparent" mt="3">
        <Table.Header>
          <Table.Row bg="transparent">
            <Table.ColumnHeader px="0" />
            {zones.length > 0 && <Table.ColumnHeader>{t("leaf.zone")}</Table.ColumnHeader>}
            <Table.ColumnHeader>{t("leaf.plant")}</Table.ColumnHeader>
            <Table.ColumnHeader>
              {t("leaf.readInUnit", { unit: measure(units, "stem").label })}
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {entries.map((entry, k) => (
            <Table.Row key={k} bg="transparent">
              <Table.Cell px="0" color="inkSoft">
                {k + 1}
              </Table.Cell>
              {zones.length > 0 && (
                <Table.Cell px="1">
                  <NativeSelect.Root size="xs">
                    <NativeSelect.Field
                      aria-label={t("leaf.zoneOf", { place: k + 1 })}
                      value={entry.zone}
                      onChange={(e) => put(k, { zone: e.currentTarget.value })}
                    >
                      <option value="">{t("leaf.noZone")}</option>
                      {zones.map((z) => (
                        <option key={z.name} value={z.name}>
                          {z.name}
                        </option>
                      ))}
                    </NativeSelect.Field>
                    <NativeSelect.Indicator />
                  </NativeSelect.Root>
                </Table.Cell>
              )}
              <Table.Cell px="1">
                <Input
                  size="xs"
                  bg="sheet"
                  aria-label={t("leaf.plantOf", { place: k + 1 })}
                  value={entry.plant}
                  onChange={(e) => put(k, { plant: e.target.value })}
                />
              </Table.Cell>
              <Table.Cell px="1">
                <Input
                  size="xs"
                  bg="sheet"
                  inputMode="decimal"
                  aria-label={t("leaf.readOf", { place: k + 1 })}
                  aria-invalid={Boolean(problemOf(k))}
                  value={entry.read}
                  onChange={(e) => put(k, { read: e.target.value })}
                />
                {problemOf(k) && (
                  <Text fontSize="xs" color="rust">
                    {problemOf(k)}
                  </Text>
                )}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
      <Flex mt="2" gap="3" align="center" wrap="wrap">
        <Button
          size="xs"
          variant="outline"
          onClick={() =>
            setEntries((was) => [...was, { zone: was.at(-1)?.zone ?? "", plant: "", read: "" }])
          }
        >
          {t("leaf.addLeaf")}
        </Button>
        <Text fontSize="sm" color="inkSoft">
          {t("leaf.minusNotNeeded")}
        </Text>
      </Flex>
      <Box mt="3">
        <Line label={t("leaf.note")} value={form.note} change={(note) => set({ note })} />
      </Box>
      {add.error && <Notice error={add.error} />}
    </FormSheet>
  );
}
