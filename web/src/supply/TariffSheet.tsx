import { Box, Button, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { isDay } from "../time/enteredDate";
import { clockOf, hourOf } from "./clock";
import type { TariffPart } from "./queries";
import { weekdayName } from "./PartSheet";
import { RemovePart } from "./RemovePart";
import { t } from "./t";

interface Props {
  tariff: TariffPart | null;
  currency: string;
  save: (tariff: TariffPart) => void;
  remove: (() => void) | null;
  pending: boolean;
  error: unknown;
  problems: Record<string, string>;
  close: () => void;
}

interface BandText {
  key: number;
  from: string;
  to: string;
  price: string;
  weekdays: number[];
}

const WEEK = [0, 1, 2, 3, 4, 5, 6];
const priced = (text: string): number | null => {
  const value = Number(text.trim().replace(",", "."));
  return text.trim() !== "" && Number.isFinite(value) ? value : null;
};

/** Prices of power: by hour and weekday, on holidays, and for the month's peak. */
export function TariffSheet(props: Props) {
  const { tariff, currency, save, remove, pending, error, problems, close } = props;
  const [name, setName] = useState(tariff?.name ?? "");
  const [price, setPrice] = useState(tariff ? String(tariff.price) : "");
  const [peak, setPeak] = useState(tariff ? String(tariff.peak_price) : "0");
  const [holidays, setHolidays] = useState((tariff?.holidays ?? []).join(" "));
  const [wrong, setWrong] = useState<string[]>([]);
  const [bands, setBands] = useState<BandText[]>(() =>
    (tariff?.bands ?? []).map((b, key) => ({
      key,
      from: clockOf(b.from_hour),
      to: clockOf(b.to_hour),
      price: String(b.price),
      weekdays: b.weekdays ?? WEEK,
    })),
  );
  const put = (key: number, change: Partial<BandText>) =>
    setBands(bands.map((b) => (b.key === key ? { ...b, ...change } : b)));
  const send = () => {
    const days = holidays.split(/[\s,;]+/).filter(Boolean);
    const found: string[] = [];
    const made = bands.map((b) => {
      const [from, to, at] = [hourOf(b.from), hourOf(b.to), priced(b.price)];
      if (from === null || to === null || at === null) found.push(`band${b.key}`);
      return { from_hour: from ?? 0, to_hour: to ?? 0, price: at ?? 0, weekdays: b.weekdays };
    });
    if (priced(price) === null) found.push("price");
    if (priced(peak) === null) found.push("peak");
    if (!days.every(isDay)) found.push("holidays");
    setWrong(found);
    if (found.length > 0) return;
    save({
      name: name.trim(),
      price: priced(price) ?? 0,
      peak_price: priced(peak) ?? 0,
      bands: made,
      holidays: days,
    });
  };
  const unread = (field: string) => (wrong.includes(field) ? t("supply.enterThis") : undefined);
  const perKwh = `${currency}/kWh`;
  return (
    <FormSheet
      title={tariff ? t("supply.changePart", { name: tariff.name }) : t("supply.addTariff")}
      close={close}
      save={send}
      words={t("supply.save")}
      pending={pending}
      size="lg"
      other={<RemovePart remove={remove} />}
    >
      <Grid templateColumns={{ base: "minmax(0, 1fr)", md: "1fr 1fr" }} gap="3">
        <Line
          label={t("supply.name")}
          value={name}
          change={setName}
          error={problems["name"]}
          required
        />
        <Line
          label={t("supply.usualPrice")}
          value={price}
          change={setPrice}
          unit={perKwh}
          numeric
          error={unread("price") ?? problems["price"]}
        />
        <Line
          label={t("supply.peakPrice")}
          value={peak}
          change={setPeak}
          unit={`${currency}/kW`}
          numeric
          help={t("supply.peakHelp")}
          error={unread("peak") ?? problems["peak_price"]}
        />
        <Line
          label={t("supply.holidays")}
          value={holidays}
          change={setHolidays}
          placeholder="2026-05-01 2026-08-15"
          help={t("supply.holidaysHelp")}
          error={unread("holidays")}
        />
      </Grid>
      <Text fontWeight="600" mt="4">
        {t("supply.otherHours")}
      </Text>
      {bands.map((b, k) => (
        <Box key={b.key} borderTopWidth="1px" borderColor="rule" py="2">
          <Grid templateColumns="90px 90px minmax(0, 1fr) auto" gap="3" alignItems="end">
            <Line label={t("supply.from")} value={b.from} change={(from) => put(b.key, { from })} />
            <Line label={t("supply.to")} value={b.to} change={(to) => put(b.key, { to })} />
            <Line
              label={t("supply.price")}
              value={b.price}
              change={(at) => put(b.key, { price: at })}
              unit={perKwh}
              numeric
            />
            <Button
              size="sm"
              variant="ghost"
              type="button"
              onClick={() => setBands(bands.filter((x) => x.key !== b.key))}
            >
              {t("supply.remove")}
            </Button>
          </Grid>
          <Flex gap="3" wrap="wrap" mt="2">
            {WEEK.map((day) => (
              <Tick
                key={day}
                label={weekdayName(day)}
                on={b.weekdays.includes(day)}
                change={(on) =>
                  put(b.key, {
                    weekdays: WEEK.filter((d) => (d === day ? on : b.weekdays.includes(d))),
                  })
                }
              />
            ))}
          </Flex>
          {(unread(`band${b.key}`) ??
            problems[`bands.${k}.from_hour`] ??
            problems[`bands.${k}.weekdays`]) && (
            <Text color="rust" fontSize="sm">
              {unread(`band${b.key}`) ??
                problems[`bands.${k}.from_hour`] ??
                problems[`bands.${k}.weekdays`]}
            </Text>
          )}
        </Box>
      ))}
      <Button
        size="sm"
        variant="outline"
        type="button"
        mt="2"
        onClick={() =>
          setBands([
            ...bands,
            {
              key: Math.max(-1, ...bands.map((b) => b.key)) + 1,
              from: "22:00",
              to: "06:00",
              price: "",
              weekdays: WEEK,
            },
          ])
        }
      >
        {t("supply.addHours")}
      </Button>
      {error !== null && error !== undefined && <Notice error={error} />}
    </FormSheet>
  );
}
