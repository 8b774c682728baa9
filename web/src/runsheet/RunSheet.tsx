import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { isFree, pinned, removed, split } from "./changes";
import { lanes, type Bar, type LanesBy } from "./lanes";
import { moneyMore } from "../units/money";
import {
  useAnnounce,
  useChangeSheet,
  useDiscardSheet,
  usePlanSheet,
  useTakeSheet,
  useTried,
  useUndoSheetChange,
  useWhy,
  type BlockSets,
  type RunSheetData,
  type SheetData,
} from "./queries";
import { PlanFailed } from "./PlanFailed";
import { SetPanel } from "./SetPanel";
import { SheetChart } from "./SheetChart";
import { HeadButton, SheetHead } from "./SheetHead";
import { SheetKey } from "./SheetKey";
import { AlarmList, BrokenList, LateStarts, ProposalPanel, ShortList } from "./SheetNotes";
import { useDraft } from "./useDraft";
import { t } from "./t";

const DAYS = [3, 5, 10];

interface Props {
  data: RunSheetData;
  sheet: SheetData;
  time: FarmTime;
}

/** The run sheet in use: its chart, the chosen irrigation, and what can be done with all of it. */
export function RunSheet({ data, sheet, time }: Props) {
  const { farm, units, may } = useSignedIn();
  const mayChange = may("decide");
  const [by, setBy] = useState<LanesBy>("source");
  const [days, setDays] = useState(5);
  const [chosen, setChosen] = useState<string | null>(null);
  const change = useChangeSheet(farm.slug);
  const undo = useUndoSheetChange(farm.slug);
  const plan = usePlanSheet(farm.slug);
  const take = useTakeSheet(farm.slug);
  const discard = useDiscardSheet(farm.slug);
  const announce = useAnnounce(farm.slug);
  const { draft, setDraft, body, settle } = useDraft(
    sheet,
    (next, done) => change.mutate(next, { onSettled: done }),
    change.isPending,
  );
  const tried = useTried(farm.slug, body);
  const bars = lanes(sheet, "source").flatMap((l) => l.bars);
  const bar = bars.find((b) => b.key === chosen) ?? null;
  const block = draft?.set.block_id ?? bar?.block ?? null;
  const why = useWhy(farm.slug, block, sheet.edit);
  const name = sheet.blocks.find((b) => b.id === block)?.name ?? "";
  const moving = body ? tried.data : undefined;
  const store = moving?.store ?? why.data?.store;
  const save = (blocks: BlockSets[]) => change.mutate({ edit: sheet.edit, blocks });
  const act = (of: Bar, key: string) => {
    if (!of.set || !isFree(of.set)) return;
    if (key === "p") save([pinned(sheet, of.set, !of.set.pinned)]);
    if (key === "s") save([split(sheet, of.set)]);
    if (key === "Delete") save([removed(sheet, of.set)]);
  };
  const error =
    change.error ??
    (body ? tried.error : null) ??
    undo.error ??
    plan.error ??
    take.error ??
    announce.error;
  const differs = data.announced?.differs ?? sheet.sets.length;
  return (
    <Box>
      <SheetHead data={data} sheet={sheet} time={time} units={units}>
        {mayChange && (
          <>
            <HeadButton
              main
              words={announceWords(data, sheet, differs)}
              act={() => announce.mutate(sheet.edit)}
              pending={announce.isPending}
              disabled={differs === 0 || sheet.sets.length === 0}
            />
            <HeadButton
              words={t("runsheet.planAgain")}
              act={() => plan.mutate(undefined)}
              pending={plan.isPending || data.planning}
            />
            <HeadButton
              words={t("runsheet.undo")}
              act={() => undo.mutate(sheet.edit)}
              pending={undo.isPending}
              disabled={!sheet.can_undo}
            />
          </>
        )}
        <Button asChild size="sm" variant="outline">
          <a href={`/api/farms/${farm.slug}/run-sheet.pdf`} target="_blank" rel="noreferrer">
            {t("runsheet.print")}
          </a>
        </Button>
        <Button asChild size="sm" variant="outline">
          <a href={`/api/farms/${farm.slug}/run-sheet.csv`} download>
            {t("runsheet.csv")}
          </a>
        </Button>
      </SheetHead>
      <AlarmList alarms={data.alarms} time={time} />
      {data.failed && <PlanFailed incident={data.failed} />}
      {!time.isToday(new Date(sheet.first_at)) && (
        <Text borderLeftWidth="3px" borderColor="straw" ps="3" mb="3">
          {t("runsheet.plannedBefore", { when: time.weekdayAndDate(new Date(sheet.made_at)) })}
        </Text>
      )}
      {error && <Notice error={error} />}
      {data.proposal && (
        <ProposalPanel
          proposal={data.proposal}
          currency={sheet.currency}
          time={time}
          take={() => data.proposal && take.mutate(data.proposal.id)}
          discard={() => data.proposal && discard.mutate(data.proposal.id)}
          pending={take.isPending}
          mayChange={mayChange}
        />
      )}
      <Flex gap="4" wrap="wrap" align="center" mb="2">
        <Choices
          label={t("runsheet.lanesBy")}
          value={by}
          change={(value) => setBy(value as LanesBy)}
          choices={[
            { value: "source", label: t("runsheet.bySource") },
            { value: "person", label: t("runsheet.byPerson") },
            ...(sheet.machines.length > 0
              ? [{ value: "machine", label: t("runsheet.byMachine") }]
              : []),
          ]}
        />
        <Choices
          label={t("runsheet.days")}
          value={String(days)}
          change={(value) => setDays(Number(value))}
          choices={DAYS.map((d) => ({
            value: String(d),
            label: t("runsheet.daysShown", { days: d }),
          }))}
        />
        <Text fontSize="sm" aria-live="polite" minH="1.4em">
          {moving &&
            t("runsheet.wouldCost", {
              money: moneyMore(moving.totals.total - sheet.totals.total, sheet.currency),
              broken:
                moving.broken.length > 0
                  ? t("runsheet.breaksRules", { count: moving.broken.length })
                  : "",
            })}
        </Text>
      </Flex>
      <SheetChart
        sheet={moving ? { ...sheet, broken: moving.broken } : sheet}
        time={time}
        units={units}
        by={by}
        days={days}
        chosen={chosen}
        choose={(one) => setChosen(one.key === chosen ? null : one.key)}
        draft={draft}
        setDraft={setDraft}
        settle={settle}
        act={act}
        mayChange={mayChange}
        store={store && block !== null ? { store, name } : null}
      />
      <SheetKey sheet={sheet} />
      <LateStarts sheet={sheet} />
      <BrokenList broken={moving?.broken ?? sheet.broken} sheet={sheet} time={time} />
      {bar?.set && (
        <SetPanel
          sheet={sheet}
          set={bar.set}
          time={time}
          why={why.data}
          change={save}
          saving={change.isPending}
          mayChange={mayChange}
        />
      )}
      <ShortList sheet={sheet} units={units} />
      <Assumptions sheet={sheet} />
    </Box>
  );
}

function Choices(props: {
  label: string;
  value: string;
  change: (value: string) => void;
  choices: { value: string; label: string }[];
}) {
  return (
    <Flex role="group" aria-label={props.label} gap="1" wrap="wrap">
      {props.choices.map((choice) => (
        <Button
          key={choice.value}
          size="xs"
          variant={choice.value === props.value ? "solid" : "outline"}
          aria-pressed={choice.value === props.value}
          onClick={() => props.change(choice.value)}
        >
          {choice.label}
        </Button>
      ))}
    </Flex>
  );
}

/** What the sheet takes for granted, and what it leaves out. */
function Assumptions({ sheet }: { sheet: SheetData }) {
  const { farm } = useSignedIn();
  return (
    <Box mt="4" fontSize="sm" color="inkSoft" maxW="90ch">
      {sheet.left_out.length > 0 && (
        <Text>{t("runsheet.leftOut", { names: sheet.left_out.join(", ") })}</Text>
      )}
      {sheet.value_assumed && <Text>{t("runsheet.valueAssumed")}</Text>}
      <Text>
        {t("runsheet.startsEveryTwoHours")}{" "}
        <Link to={`/${farm.slug}/farm/water-supply`} style={{ textDecoration: "underline" }}>
          {t("runsheet.changeWaterSupply")}
        </Link>
      </Text>
      <Text>{t("runsheet.caution")}</Text>
    </Box>
  );
}

/** What the button says: how much it tells, and that it tells it although rules are broken. */
function announceWords(data: RunSheetData, sheet: SheetData, differs: number): string {
  if (sheet.broken.length > 0 && differs > 0) return t("runsheet.announceAnyway");
  return differs > 0 && data.announced
    ? t("runsheet.announceChanges", { count: differs })
    : t("runsheet.announce");
}
