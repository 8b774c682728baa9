import { Box, Button, Field, Flex, Grid, Heading, Table, Text, Textarea } from "@chakra-ui/react";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Refusal } from "../api/client";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { DateLine } from "../form/DateLine";
import { Line } from "../form/Labelled";
import { useSettled } from "../form/useSettled";
import { useSignedIn } from "../session/context";
import { useSetup } from "../setup/queries";
import { ink } from "../theme/system";
import { figure, measure, number } from "../units/format";
import { cansIn } from "./cans";
import {
  useCatchCans,
  useCatchPreview,
  useDeleteCatch,
  useSaveCatch,
  type CatchIn,
  type CatchOut,
} from "./queries";
import { Term } from "../glossary/Term";
import { shownDay } from "../time/enteredDate";
import { t } from "./t";

/** Cans set out in a block: how even the water falls. */
export function CatchCans() {
  const { block: param } = useParams();
  const { farm, units, may } = useSignedIn();
  const id = Number(param);
  const tests = useCatchCans(farm.slug, id);
  const setup = useSetup(farm.slug, id);
  const save = useSaveCatch(farm.slug, id);
  const remove = useDeleteCatch(farm.slug, id);
  const [text, setText] = useState("");
  const [distances, setDistances] = useState("");
  const [on, setOn] = useState("");
  const [note, setNote] = useState("");
  const moving = setup.data?.system.kind === "pivot";
  const cans = cansIn(text, units, "water");
  const far = cansIn(distances, units, "length");
  const body: CatchIn | null =
    cans.values.length >= 8 && cans.wrong === null && far.wrong === null
      ? {
          on: on || "2000-01-01",
          catch_mm: cans.values,
          distance_m: far.values.length > 0 ? far.values : null,
          note,
        }
      : null;
  const preview = useCatchPreview(farm.slug, id, useSettled(body, 250));
  const error = tests.error ?? setup.error;
  if (error) return <Notice error={error} />;
  if (!tests.data || !setup.data) return <Loading what={t("irrigation.loadingTheCatchCanTests")} />;
  const problem = preview.error instanceof Refusal ? preview.error.problems[0]?.message : undefined;
  return (
    <Box maxW="1100px">
      <Text fontSize="sm" color="inkSoft">
        <Link to={`/${farm.slug}/blocks/${id}/setup`}>← {setup.data.name}</Link>
      </Text>
      <Heading as="h1" size="2xl" fontWeight="700">
        {t("irrigation.catchCanTest", { name: setup.data.name })}
      </Heading>
      <Text color="inkSoft" fontSize="sm" maxW="70ch">
        {t("irrigation.setOutAtLeastEightEqualCans")}
      </Text>
      <Grid templateColumns={{ base: "minmax(0, 1fr)", md: "1fr 1fr" }} gap="8" mt="4">
        {may("record_readings") && (
          <Box>
            <Field.Root invalid={Boolean(cans.wrong ?? problem)}>
              <Field.Label>
                {t("irrigation.caughtInEachCan", { label: measure(units, "water").label })}
              </Field.Label>
              <Textarea
                bg="sheet"
                rows={4}
                value={text}
                placeholder="12.4 11.0 13.1 …"
                onChange={(e) => setText(e.target.value)}
              />
              <Field.HelperText>
                {t("irrigation.cansSeparateThemBySpacesOrLines", { count: cans.values.length })}
              </Field.HelperText>
              <Field.ErrorText>
                {cans.wrong ? t("irrigation.isNotANumber", { wrong: cans.wrong }) : problem}
              </Field.ErrorText>
            </Field.Root>
            {moving && (
              <Field.Root mt="3" invalid={Boolean(far.wrong)}>
                <Field.Label>
                  {t("irrigation.distanceOfEachFromThePivotPoint", {
                    label: measure(units, "length").label,
                  })}
                </Field.Label>
                <Textarea
                  bg="sheet"
                  rows={2}
                  value={distances}
                  onChange={(e) => setDistances(e.target.value)}
                />
                <Field.HelperText>
                  {t("irrigation.aCanFartherOutRepresentsMoreArea")}
                </Field.HelperText>
                <Field.ErrorText>
                  {far.wrong && t("irrigation.isNotANumber", { wrong: far.wrong })}
                </Field.ErrorText>
              </Field.Root>
            )}
            <Grid templateColumns="minmax(0, 1fr) minmax(0, 1.5fr)" gap="3" mt="3">
              <DateLine label={t("irrigation.on")} value={on} change={setOn} />
              <Line label={t("irrigation.note")} value={note} change={setNote} />
            </Grid>
            {save.error && <Notice error={save.error} />}
            <Button
              size="sm"
              mt="3"
              disabled={!body || !on}
              loading={save.isPending}
              onClick={() =>
                body &&
                save.mutate(body, {
                  onSuccess: () => {
                    setText("");
                    setDistances("");
                  },
                })
              }
            >
              {t("irrigation.saveTest")}
            </Button>
          </Box>
        )}
        <Box aria-live="polite">
          {body && preview.data ? (
            <Result test={preview.data} />
          ) : (
            tests.data[0] && <Result test={tests.data[0]} />
          )}
        </Box>
      </Grid>
      <Heading as="h2" size="lg" mt="6">
        {t("irrigation.tests")}
      </Heading>
      {tests.data.length === 0 && <Text>{t("irrigation.noneYet")}</Text>}
      {tests.data.length > 0 && (
        <Table.ScrollArea tabIndex={0} maxW="760px">
          <Table.Root size="sm" bg="transparent">
            <Table.Body>
              {tests.data.map((test) => (
                <Table.Row key={test.id} bg="transparent">
                  <Table.Cell px="0">{shownDay(test.on)}</Table.Cell>
                  <Table.Cell>{t("irrigation.cans", { cans: test.cans })}</Table.Cell>
                  <Table.Cell>
                    {t("irrigation.mean", {
                      mean: figure(test.mean_mm, units, "water"),
                      label: measure(units, "water").label,
                    })}
                  </Table.Cell>
                  <Table.Cell fontWeight="700">
                    {t("irrigation.dulq", { duLq: number(test.du_lq * 100, 0) })}
                    <Term of="dulq" />
                  </Table.Cell>
                  <Table.Cell>
                    {t("irrigation.cu", { cu: number(test.cu * 100, 0) })}
                    <Term of="cu" />
                  </Table.Cell>
                  <Table.Cell color="inkSoft">{test.note}</Table.Cell>
                  <Table.Cell px="0" textAlign="end">
                    {may("record_readings") && (
                      <Button
                        size="2xs"
                        variant="ghost"
                        aria-label={t("irrigation.removeTheTestOf", { on: shownDay(test.on) })}
                        onClick={() => remove.mutate(test.id)}
                      >
                        {t("irrigation.remove")}
                      </Button>
                    )}
                  </Table.Cell>
                </Table.Row>
              ))}
            </Table.Body>
          </Table.Root>
        </Table.ScrollArea>
      )}
    </Box>
  );
}

const WIDTH = 420;
const TALL = 150;

/** The cans from driest to wettest, the mean and the low quarter. */
function Result({ test }: { test: CatchOut }) {
  const { units } = useSignedIn();
  const sorted = test.catch_mm.toSorted((a, b) => a - b);
  const most = sorted.at(-1) || 1;
  const step = WIDTH / sorted.length;
  const y = (mm: number) => TALL - (mm / most) * (TALL - 14);
  const quarter = sorted.length / 4;
  return (
    <Box>
      <Flex gap="6" wrap="wrap">
        <Text fontSize="lg">
          {t("irrigation.dulq2")} <b>{number(test.du_lq * 100, 1)} %</b>
        </Text>
        <Text fontSize="lg">
          {t("irrigation.cu2")} <b>{number(test.cu * 100, 1)} %</b>
        </Text>
        <Text fontSize="lg">
          {t("irrigation.mean2")}{" "}
          <b>
            {figure(test.mean_mm, units, "water")} {measure(units, "water").label}
          </b>
        </Text>
      </Flex>
      <svg
        viewBox={`0 0 ${WIDTH} ${TALL + 18}`}
        width="100%"
        role="img"
        aria-label={t("irrigation.cansFromDriestToWettest")}
      >
        {sorted.map((mm, i) => (
          <rect
            // oxlint-disable-next-line no-array-index-key -- cans have no other name
            key={i}
            x={i * step + 1}
            y={y(mm)}
            width={Math.max(step - 2, 1)}
            height={TALL - y(mm)}
            fill={ink(i + 0.5 < quarter ? "straw" : "waterMid")}
          />
        ))}
        <line
          x1={0}
          x2={WIDTH}
          y1={y(test.mean_mm)}
          y2={y(test.mean_mm)}
          stroke={ink("ink")}
          strokeDasharray="4 3"
        />
        <text x={0} y={TALL + 14} fill={ink("strawInk")} style={{ fontSize: 12 }}>
          {t("irrigation.driestQuarterMean", {
            lowQuarter: figure(test.low_quarter_mm, units, "water"),
          })}
        </text>
        <text
          x={WIDTH}
          y={y(test.mean_mm) - 4}
          textAnchor="end"
          fill={ink("ink")}
          style={{ fontSize: 12 }}
        >
          {t("irrigation.mean2")}
        </text>
      </svg>
    </Box>
  );
}
