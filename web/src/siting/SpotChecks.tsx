import { Box, Button, Flex, Grid, Heading, Table, Text } from "@chakra-ui/react";
import { Fragment, useState, type SyntheticEvent } from "react";
import { Notice } from "../app/Notice";
import { Choice, Line } from "../form/Labelled";
import { MomentLine } from "../form/MomentLine";
import { RemoveButton } from "../form/RemoveButton";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import { number, withUnit } from "../units/format";
import { useAddCheck, useRemoveCheck, type SpotRecord } from "./queries";
import { t } from "./t";
import { typedNumber } from "../form/typedNumber";

type Way = SpotRecord["checks"][number]["way"];

const WAYS: Record<Way, string> = {
  "oven-dried core": t("siting.wayOvenCore"),
  "portable sensor": t("siting.wayPortable"),
  feel: t("siting.wayFeel"),
};

/** The probe held against what was found by hand beside it. */
export function SpotChecks({ spot, record }: { spot: number; record: SpotRecord }) {
  const { farm, may } = useSignedIn();
  const [open, setOpen] = useState(false);
  const remove = useRemoveCheck(farm.slug);
  return (
    <Box as="section" mt="7">
      <Heading as="h2" size="md">
        {t("siting.checks")}
      </Heading>
      <Text fontSize="sm" color="inkSoft" maxW="75ch">
        {t("siting.checksHelp")}{" "}
        {record.next_check && t("siting.nextCheck", { day: shownDay(record.next_check) })}
      </Text>
      {record.checks.length > 0 && (
        <Table.ScrollArea tabIndex={0}>
          <Table.Root size="sm" bg="transparent">
            <Table.Header>
              <Table.Row bg="transparent">
                <Table.ColumnHeader px="0">{t("siting.checkedOn")}</Table.ColumnHeader>
                <Table.ColumnHeader>{t("siting.depth")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("siting.byHand")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">{t("siting.sensor")}</Table.ColumnHeader>
                <Table.ColumnHeader textAlign="end">
                  {t("siting.sensorLessHand")}
                </Table.ColumnHeader>
                <Table.ColumnHeader />
              </Table.Row>
            </Table.Header>
            <Table.Body>
              {record.checks.map((check) => (
                <Fragment key={check.id}>
                  {check.depths.map((d, i) => (
                    <Check
                      key={d.depth_mm}
                      depth={d}
                      words={
                        i === 0
                          ? `${shownDay(check.at.slice(0, 10))}, ${WAYS[check.way]}${check.note ? `: ${check.note}` : ""}`
                          : ""
                      }
                      remove={
                        i === 0 && may("set_up_ground") ? () => remove.mutate(check.id) : null
                      }
                      pending={remove.isPending}
                    />
                  ))}
                </Fragment>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
      {remove.error && <Notice error={remove.error} />}
      {may("record_readings") && !open && (
        <Button size="sm" variant="outline" mt="2" onClick={() => setOpen(true)}>
          {t("siting.addCheck")}
        </Button>
      )}
      {open && <CheckForm spot={spot} depths={record.depths_mm} close={() => setOpen(false)} />}
    </Box>
  );
}

interface CheckProps {
  depth: SpotRecord["checks"][number]["depths"][number];
  words: string;
  remove: (() => void) | null;
  pending: boolean;
}

function Check({ depth, words, remove, pending }: CheckProps) {
  const { units } = useSignedIn();
  const off = depth.sensor === null ? null : (depth.sensor - depth.by_hand) * 100;
  return (
    <Table.Row bg="transparent">
      <Table.Cell px="0">{words}</Table.Cell>
      <Table.Cell>{withUnit(depth.depth_mm, units, "depth", 0)}</Table.Cell>
      <Table.Cell textAlign="end">{number(depth.by_hand * 100, 1)} %</Table.Cell>
      <Table.Cell textAlign="end">
        {depth.sensor === null ? t("siting.noReading") : `${number(depth.sensor * 100, 1)} %`}
      </Table.Cell>
      <Table.Cell textAlign="end" color={depth.differs ? "rust" : undefined}>
        {off === null ? "–" : `${off > 0 ? "+" : ""}${number(off, 1)}`}
        {depth.differs && `, ${t("siting.differs")}`}
      </Table.Cell>
      <Table.Cell textAlign="end">
        {remove && <RemoveButton words={t("siting.removeSpot")} pending={pending} press={remove} />}
      </Table.Cell>
    </Table.Row>
  );
}

function CheckForm({ spot, depths, close }: { spot: number; depths: number[]; close: () => void }) {
  const { farm, units } = useSignedIn();
  const save = useAddCheck(farm.slug, spot);
  const [way, setWay] = useState<Way>("oven-dried core");
  const [at, setAt] = useState("");
  const [note, setNote] = useState("");
  const [values, setValues] = useState<string[]>(depths.map(() => ""));
  const problems = problemsOf(save.error);
  const told = depths.flatMap((depth, i) => {
    const value = typedNumber(values[i]);
    return value === null ? [] : [{ depth_mm: depth, value: value / 100 }];
  });

  function submit(event: SyntheticEvent) {
    event.preventDefault();
    save.mutate({ at: at === "" ? null : at, way, depths: told, note }, { onSuccess: close });
  }

  return (
    <Box as="form" onSubmit={submit} mt="3" maxW="640px">
      <Grid templateColumns={{ base: "1fr", sm: "1fr 1fr" }} gap="3">
        <Choice label={t("siting.way")} value={way} change={(w) => setWay(w as Way)}>
          {Object.entries(WAYS).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </Choice>
        <MomentLine
          label={t("siting.checkedAt")}
          value={at}
          change={setAt}
          error={problems["at"]}
        />
        {depths.map((depth, i) => (
          <Line
            key={depth}
            label={
              way === "feel"
                ? t("siting.availableAt", { depth: withUnit(depth, units, "depth", 0) })
                : t("siting.waterAt", { depth: withUnit(depth, units, "depth", 0) })
            }
            unit="%"
            value={values[i] ?? ""}
            change={(v) => setValues(depths.map((_, k) => (k === i ? v : (values[k] ?? ""))))}
            error={problems[`depths.${i}.value`]}
            numeric
          />
        ))}
        <Line label={t("siting.note")} value={note} change={setNote} />
      </Grid>
      <Text fontSize="xs" color="inkSoft" mt="1">
        {t("siting.checkHelp")}
      </Text>
      <Flex gap="3" mt="3">
        <Button type="submit" size="sm" loading={save.isPending} disabled={told.length === 0}>
          {t("siting.saveCheck")}
        </Button>
        <Button size="sm" variant="ghost" type="button" onClick={close}>
          {t("siting.cancel")}
        </Button>
      </Flex>
      {save.error && <Notice error={save.error} />}
    </Box>
  );
}
