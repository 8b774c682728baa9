import { Box, Button, Flex, Heading, Table, Text } from "@chakra-ui/react";
import { shownDay } from "../time/enteredDate";
import type { FarmTime } from "../time/farmTime";
import {
  figure,
  M3_H_PER_L_S,
  measure,
  number,
  runningTime,
  withUnit,
  type UnitSystem,
} from "../units/format";
import { money, moneyMore } from "../units/money";
import type { Alarm, Broken, Proposal, SheetData } from "./queries";
import { changeWord } from "./changeWord";
import { brokenWords } from "./rules";
import { t } from "./t";

/** Rules that the sheet breaks; a person may have his reasons. */
export function BrokenList(props: { broken: Broken[]; sheet: SheetData; time: FarmTime }) {
  const { broken, sheet, time } = props;
  if (broken.length === 0) return null;
  return (
    <Box
      as="section"
      mt="3"
      aria-labelledby="broken"
      borderLeftWidth="3px"
      borderColor="rust"
      ps="3"
    >
      <Heading as="h3" id="broken" size="sm">
        {t("runsheet.breaksRules", { count: broken.length })}
      </Heading>
      <Box as="ul" ps="5" fontSize="sm">
        {broken.map((b) => (
          <li key={`${b.rule}${b.name}${b.slots[0]}${b.block_ids[0]}`}>
            {brokenWords(b, sheet, time)}
          </li>
        ))}
      </Box>
    </Box>
  );
}

/** Sources that begin later than the rest of the season allows. */
export function LateStarts({ sheet }: { sheet: SheetData }) {
  if (sheet.late_starts.length === 0) return null;
  return (
    <Box as="section" mt="3" borderLeftWidth="3px" borderColor="rust" ps="3" role="note">
      {sheet.late_starts.map((late) => (
        <Text key={late.source} fontSize="sm">
          {late.begin_by === null
            ? t("runsheet.tooLate", { source: late.source })
            : late.first_on === null
              ? t("runsheet.nothingPlannedBy", {
                  source: late.source,
                  by: shownDay(late.begin_by),
                })
              : t("runsheet.beginsLate", {
                  source: late.source,
                  by: shownDay(late.begin_by),
                  first: shownDay(late.first_on),
                })}
        </Text>
      ))}
    </Box>
  );
}

/** Blocks that go short on the sheet as it was planned, and what would help. */
export function ShortList({ sheet, units }: { sheet: SheetData; units: UnitSystem }) {
  const { short } = sheet;
  const { reliefs } = sheet.outcome;
  if (short.length === 0) return null;
  const name = (id: number) => sheet.blocks.find((b) => b.id === id)?.name ?? "";
  return (
    <Box as="section" mt="4" aria-labelledby="short">
      <Heading as="h3" id="short" size="md">
        {t("runsheet.whatCantBeMet")}
      </Heading>
      <Box as="ul" ps="5">
        {short.map((s) => (
          <li key={s.block_id}>
            {t("runsheet.shortLine", {
              name: name(s.block_id),
              water: withUnit(s.lacking_mm, units, "water"),
              money: money(s.money, sheet.currency),
            })}
          </li>
        ))}
      </Box>
      {reliefs && reliefs.length > 0 && (
        <Text fontSize="sm" mt="1">
          {t("runsheet.whatWouldHelp", {
            list: reliefs
              .slice(0, 4)
              .map((r) =>
                t("runsheet.reliefLine", {
                  what: r.on
                    ? t("runsheet.anotherPersonOn", { day: shownDay(r.on) })
                    : RELIEF[r.kind](r.name, r.more, units),
                  money: money(r.money, sheet.currency),
                }),
              )
              .join(" · "),
          })}
        </Text>
      )}
      {reliefs?.length === 0 && (
        <Text fontSize="sm" color="inkSoft" mt="1">
          {t("runsheet.nothingWouldHelp")}
        </Text>
      )}
    </Box>
  );
}

type ReliefKind = NonNullable<SheetData["outcome"]["reliefs"]>[number]["kind"];

const flowMore = (more: number, units: UnitSystem) => withUnit(more * M3_H_PER_L_S, units, "flow");
const RELIEF: Record<ReliefKind, (name: string, more: number, units: UnitSystem) => string> = {
  source: (name, more, units) => t("runsheet.moreFlow", { name, more: flowMore(more, units) }),
  main: (name, more, units) => t("runsheet.moreFlow", { name, more: flowMore(more, units) }),
  machine: (name) => t("runsheet.anotherMachine", { name }),
  group: (name) => t("runsheet.anotherInGroup", { name }),
  hours: (name, more) => t("runsheet.longerHours", { name, hours: runningTime(more) }),
  people: () => t("runsheet.anotherPerson"),
  "day licence": (name, more, units) =>
    t("runsheet.moreADay", {
      name,
      more: `${figure(more, units, "volume")} ${measure(units, "volume").label}`,
    }),
  "season licence": (name, more, units) =>
    t("runsheet.moreASeason", {
      name,
      more: `${figure(more, units, "volume")} ${measure(units, "volume").label}`,
    }),
  peak: (name) => t("runsheet.wayPeak", { name }),
  "smallest flow": (name) => t("runsheet.waySmallestFlow", { name }),
};

/** A plan that nobody took yet: what it changes and what that is worth. */
export function ProposalPanel(props: {
  proposal: Proposal;
  currency: string;
  time: FarmTime;
  take: () => void;
  discard: () => void;
  pending: boolean;
  mayChange: boolean;
}) {
  const { proposal, currency, time } = props;
  const saved = proposal.totals.total - proposal.now_totals.total;
  const when = (at: string | null, hours: number | null) =>
    at ? `${time.full(new Date(at))}, ${runningTime(hours)}` : "–";
  return (
    <Box
      as="section"
      aria-labelledby="proposal"
      bg="sheet"
      borderWidth="1px"
      borderColor="rule"
      p="4"
      mb="4"
    >
      <Heading as="h2" id="proposal" size="md">
        {proposal.changes.length === 0
          ? t("runsheet.newPlanIsTheSame")
          : t("runsheet.newPlanChanges", { count: proposal.changes.length })}
      </Heading>
      <Text fontSize="sm" color="inkSoft">
        {proposal.same_days
          ? t("runsheet.newPlanMoney", {
              when: time.clock(new Date(proposal.made_at)),
              money: moneyMore(saved, currency),
              energy: `${number(proposal.totals.energy_kwh, 0)} kWh`,
              before: `${number(proposal.now_totals.energy_kwh, 0)} kWh`,
            })
          : t("runsheet.newPlanOfOtherDays", { when: time.full(new Date(proposal.made_at)) })}
      </Text>
      {proposal.changes.length > 0 && (
        <Table.ScrollArea tabIndex={0} maxH="260px" mt="2">
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader>{t("runsheet.block")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("runsheet.change")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("runsheet.now")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("runsheet.newPlan")}</Table.ColumnHeader>
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {proposal.changes.map((c) => (
                <Table.Row key={`${c.block_id}${c.from_at}${c.to_at}`} bg="transparent">
                  <Table.Cell fontWeight="600">{c.block}</Table.Cell>
                  <Table.Cell>{changeWord(c.change)}</Table.Cell>
                  <Table.Cell>{when(c.from_at, c.from_hours)}</Table.Cell>
                  <Table.Cell>{when(c.to_at, c.to_hours)}</Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
      {props.mayChange && (
        <Flex gap="2" mt="3">
          <Button size="sm" loading={props.pending} onClick={props.take}>
            {t("runsheet.useNewPlan")}
          </Button>
          <Button size="sm" variant="outline" onClick={props.discard}>
            {t("runsheet.keepThisOne")}
          </Button>
        </Flex>
      )}
    </Box>
  );
}

const ALARM: Record<Alarm["alarm"], (block: string, when: string) => string> = {
  "not started": (block, when) => t("runsheet.alarmNotStarted", { block, when }),
  overrun: (block, when) => t("runsheet.alarmOverrun", { block, when }),
  "cut short": (block, when) => t("runsheet.alarmCutShort", { block, when }),
};

/** What did not go as announced. */
export function AlarmList({ alarms, time }: { alarms: Alarm[]; time: FarmTime }) {
  if (alarms.length === 0) return null;
  return (
    <Box role="alert" borderLeftWidth="3px" borderColor="rust" ps="3" mb="3">
      {alarms.map((a) => (
        <Text key={`${a.alarm}${a.irrigation_id}`}>
          {ALARM[a.alarm](a.block, time.full(new Date(a.since)))}
          {a.irrigator && ` · ${a.irrigator}`}
        </Text>
      ))}
    </Box>
  );
}
