import { Box, Flex, Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { DateLine } from "../form/DateLine";
import { FormSheet } from "../form/FormSheet";
import { Choice, Line } from "../form/Labelled";
import { MomentLine } from "../form/MomentLine";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import { measure } from "../units/format";
import {
  FIELDS,
  partFrom,
  textsOf,
  type PartField,
  type PartKind,
  type PartTexts,
} from "./partForm";
import { RemovePart } from "./RemovePart";
import { t } from "./t";

type Values = Record<string, unknown>;

interface Props {
  kind: PartKind;
  /** The part that is changed; null adds one. */
  part: Values | null;
  title: string;
  /** What a new one is called to begin with. */
  named?: string | undefined;
  tariffs: string[];
  save: (value: Values) => void;
  remove: (() => void) | null;
  pending: boolean;
  error: unknown;
  problems: Record<string, string>;
  close: () => void;
}

/** Adds or changes a source, a main, a group, a machine or a person. */
export function PartSheet(props: Props) {
  const { kind, part, title, named, tariffs, save, remove, pending, error, problems, close } =
    props;
  const { units } = useSignedIn();
  const [texts, setTexts] = useState<PartTexts>(() => ({
    ...textsOf(kind, part, units),
    ...(part === null && named ? { name: named } : {}),
  }));
  const [unread, setUnread] = useState<string[]>([]);
  const send = () => {
    const made = partFrom(kind, texts, part, units);
    setUnread("unreadable" in made ? made.unreadable : []);
    if ("value" in made) save(made.value);
  };
  return (
    <FormSheet
      title={title}
      close={close}
      save={send}
      words={t("supply.save")}
      pending={pending}
      size="lg"
      other={<RemovePart remove={remove} />}
    >
      <Grid templateColumns={{ base: "minmax(0, 1fr)", md: "1fr 1fr" }} gap="3">
        {FIELDS[kind].map((field) => (
          <PartLine
            key={field.name}
            field={field}
            kind={kind}
            text={texts[field.name] ?? ""}
            change={(text) => setTexts({ ...texts, [field.name]: text })}
            tariffs={tariffs}
            error={
              unread.includes(field.name)
                ? t("supply.enterThis")
                : (problems[field.name] ?? undefined)
            }
          />
        ))}
      </Grid>
      {kind === "sources" && (
        <Text fontSize="xs" color="inkSoft" mt="3">
          {t("supply.sourceNotes")}
        </Text>
      )}
      {error !== null && error !== undefined && <Notice error={error} />}
    </FormSheet>
  );
}

const DAYS = [
  "2026-07-13",
  "2026-07-14",
  "2026-07-15",
  "2026-07-16",
  "2026-07-17",
  "2026-07-18",
  "2026-07-19",
];

/** A weekday's short name; 0 is Monday. */
export function weekdayName(day: number): string {
  return new Date(`${DAYS[day]}T12:00:00Z`).toLocaleDateString(undefined, { weekday: "short" });
}

function PartLine(props: {
  field: PartField;
  kind: PartKind;
  text: string;
  change: (text: string) => void;
  tariffs: string[];
  error: string | undefined;
}) {
  const { field, kind, text, change, tariffs, error } = props;
  const { units } = useSignedIn();
  const { label, unit, help } = LABELS[`${kind}.${field.name}`] ?? UNLABELLED;
  const words = label();
  switch (field.kind) {
    case "weekdays":
      return (
        <Box gridColumn="1 / -1">
          <Text fontSize="sm" fontWeight="500" mb="1">
            {words}
          </Text>
          <Flex gap="4" wrap="wrap">
            {DAYS.map((_, day) => (
              <Tick
                key={day}
                label={weekdayName(day)}
                on={text.includes(String(day))}
                change={(on) =>
                  change(
                    [...DAYS.keys()]
                      .filter((d) => (d === day ? on : text.includes(String(d))))
                      .join(""),
                  )
                }
              />
            ))}
          </Flex>
          {error && (
            <Text color="rust" fontSize="sm">
              {error}
            </Text>
          )}
        </Box>
      );
    case "tariff":
      return (
        <Choice label={words} value={text} change={change} error={error}>
          <option value="">{t("supply.noTariff")}</option>
          {tariffs.map((name) => (
            <option key={name} value={name}>
              {name}
            </option>
          ))}
        </Choice>
      );
    case "day":
      return <DateLine label={words} value={text} change={change} error={error} />;
    case "moment":
      return <MomentLine label={words} value={text} change={change} error={error} />;
    default:
      return (
        <Line
          label={words}
          value={text}
          change={change}
          error={error}
          help={help?.()}
          numeric={field.kind !== "text" && field.kind !== "clock"}
          {...(field.measure
            ? { unit: measure(units, field.measure).label }
            : unit && { unit: unit() })}
          required={field.name === "name"}
        />
      );
  }
}

interface Labels {
  label: () => string;
  unit?: () => string;
  help?: () => string;
}

const UNLABELLED: Labels = { label: () => "" };
const LABELS: Record<string, Labels> = {
  "sources.name": { label: () => t("supply.name"), help: () => t("supply.nameHelp") },
  "sources.flow_m3_h": { label: () => t("supply.maximumFlow") },
  "sources.smallest_m3_h": { label: () => t("supply.minimumFlow") },
  "sources.from_hour": { label: () => t("supply.runsFrom") },
  "sources.to_hour": { label: () => t("supply.runsTo") },
  "sources.day_m3": { label: () => t("supply.licenceDay") },
  "sources.season_m3": { label: () => t("supply.licenceSeason") },
  "sources.season_from": { label: () => t("supply.seasonFrom") },
  "sources.kwh_m3": { label: () => t("supply.energy"), unit: () => "kWh/m³" },
  "sources.head_m": { label: () => t("supply.head") },
  "sources.efficiency": { label: () => t("supply.pumpEfficiency"), unit: () => "%" },
  "sources.tariff": { label: () => t("supply.tariff") },
  "sources.water_price": { label: () => t("supply.waterPrice"), unit: () => t("supply.perM3") },
  "sources.turn.first_at": { label: () => t("supply.turnFirst") },
  "sources.turn.hours": { label: () => t("supply.turnHours"), unit: () => "h" },
  "sources.turn.every_days": {
    label: () => t("supply.turnEvery"),
    unit: () => t("supply.daysUnit"),
  },
  "mains.name": { label: () => t("supply.name") },
  "mains.flow_m3_h": { label: () => t("supply.capacity") },
  "groups.name": { label: () => t("supply.name") },
  "groups.most_together": {
    label: () => t("supply.mostTogether"),
    help: () => t("supply.mostTogetherHelp"),
  },
  "machines.name": { label: () => t("supply.name") },
  "machines.moving_hours": { label: () => t("supply.movingTime"), unit: () => "h" },
  "workers.name": { label: () => t("supply.name") },
  "workers.from_hour": { label: () => t("supply.worksFrom") },
  "workers.to_hour": { label: () => t("supply.worksTo") },
  "workers.weekdays": { label: () => t("supply.weekdays") },
  "workers.starts": {
    label: () => t("supply.startsInTwoHours"),
    help: () => t("supply.startsHelp"),
  },
};
