import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { LinkButton } from "../app/LinkButton";
import { FileButton } from "../form/FileButton";
import { Choice, Line } from "../form/Labelled";
import { Tick } from "../form/Tick";
import { depthLabel, unitName } from "../instruments/words";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { Keypad } from "./Keypad";
import type { RoundChannel, Stop, VisitIn } from "./queries";
import { judged, pressed } from "./reading";
import { t } from "./t";

const REASONS = [
  t("rounds.dryOrEmpty"),
  "broken",
  t("rounds.notFound"),
  t("rounds.outOfReach"),
  t("rounds.stockOrSpraysInTheField"),
];

export type Finished = Pick<VisitIn, "unit" | "values" | "done" | "skipped" | "note"> & {
  photo: Blob | null;
};

interface Props {
  stop: Stop;
  time: FarmTime;
  typed: Record<number, string>;
  type: (typed: Record<number, string>) => void;
  finish: (visit: Finished) => void;
}

/** One instrument: the last figures beside the new ones, big keys, what is due. */
export function StopCard({ stop, time, typed, type, finish }: Props) {
  const { units } = useSignedIn();
  const [at, setAt] = useState(stop.channels[0]?.id ?? 0);
  const [done, setDone] = useState<string[]>([]);
  const [note, setNote] = useState("");
  const [skipping, setSkipping] = useState(false);
  const [reason, setReason] = useState(REASONS[0] ?? "");
  const [asked, setAsked] = useState(false);
  const [photo, setPhoto] = useState<File | null>(null);
  // What a logger reads needs no typing; it is looked over.
  const [typing, setTyping] = useState(stop.by_hand);
  const look = (c: RoundChannel) => judged(typed[c.id] ?? "", c);
  const wrong = stop.channels.filter((c) => ["unreadable", "impossible"].includes(look(c).state));
  const surprising = stop.channels.filter((c) => look(c).state === "surprising");
  const values = stop.channels.flatMap((c) => {
    const found = look(c);
    return found.state === "fine" || found.state === "surprising"
      ? [{ channel_id: c.id, value: found.value }]
      : [];
  });
  const overdue = stop.tasks.filter((task) => task.overdue || task.due === null);
  const active = stop.channels.find((c) => c.id === at);

  function press(key: string) {
    setAsked(false);
    type({ ...typed, [at]: pressed(typed[at] ?? "", key) });
  }

  function submit() {
    if (wrong.length > 0) return;
    if (surprising.length > 0 && !asked) {
      setAsked(true);
      return;
    }
    finish({
      unit: values.length > 0 ? (stop.channels[0]?.unit ?? null) : null,
      values,
      done,
      skipped: "",
      note: typing || note ? note : t("rounds.checked"),
      photo,
    });
  }

  return (
    <Box as="section" aria-label={stop.label} maxW="480px" mx="auto">
      <Heading as="h2" size="xl">
        {stop.label}
      </Heading>
      <Text color="inkSoft">
        {stop.block}
        {stop.site && ` – ${stop.site}`}
      </Text>
      <Checks stop={stop} />
      {!typing && (
        <Text mt="3">
          {t("rounds.itsLoggerReadsItCheckThatIt")}{" "}
          <LinkButton onClick={() => setTyping(true)}>{t("rounds.readItByHandAnyway")}</LinkButton>
        </Text>
      )}
      <Box mt="3" role="group" aria-label={t("rounds.readings")} hidden={!typing}>
        {stop.channels.map((c) => (
          <Figure
            key={c.id}
            channel={c}
            label={depthLabel(c.depth_mm, units)}
            text={typed[c.id] ?? ""}
            active={c.id === at}
            time={time}
            choose={() => setAt(c.id)}
            change={(text) => {
              setAsked(false);
              type({ ...typed, [c.id]: text });
            }}
          />
        ))}
      </Box>
      {asked && (
        <Box role="alert" bg="bg.error" borderLeftWidth="4px" borderColor="rust" p="3" mt="3">
          <Text fontWeight="600">
            {t("rounds.lookAtTheGaugeAgain", { count: surprising.length })}
          </Text>
          {surprising.map((c) => (
            <Text key={c.id}>
              {depthLabel(c.depth_mm, units)}: {typed[c.id]}
              {t("rounds.last2", { last: c.last ?? t("rounds.none") })}
            </Text>
          ))}
        </Box>
      )}
      {skipping ? (
        <Box mt="4" display="grid" gap="3">
          <Choice label={t("rounds.reasonForSkipping")} value={reason} change={setReason}>
            {REASONS.map((r) => (
              <option key={r}>{r}</option>
            ))}
          </Choice>
          <Line label={t("rounds.note")} value={note} change={setNote} />
          <Flex gap="2">
            <Button
              size="lg"
              flex="1"
              onClick={() => finish({ unit: null, values: [], done, skipped: reason, note, photo })}
            >
              {t("rounds.skip")}
            </Button>
            <Button size="lg" variant="outline" onClick={() => setSkipping(false)}>
              {t("rounds.back")}
            </Button>
          </Flex>
        </Box>
      ) : (
        <>
          {typing && (
            <Box mt="3">
              <Keypad press={press} minus={active?.signed ?? false} />
            </Box>
          )}
          {overdue.length > 0 && (
            <Box mt="4" role="group" aria-label={t("rounds.dueHere")}>
              <Text fontWeight="600">{t("rounds.dueHere")}</Text>
              {overdue.map((task) => (
                <Box key={task.key} mt="2">
                  <Tick
                    label={task.name}
                    on={done.includes(task.key)}
                    change={(on) =>
                      setDone(on ? [...done, task.key] : done.filter((k) => k !== task.key))
                    }
                  />
                </Box>
              ))}
            </Box>
          )}
          <Box mt="3">
            <Line label={t("rounds.note")} value={note} change={setNote} />
          </Box>
          <Box mt="3">
            <FileButton
              accept="image/*"
              file={photo}
              choose={setPhoto}
              label={t("rounds.takeAPicture")}
            />
          </Box>
          <Flex gap="2" mt="4">
            <Button
              size="xl"
              flex="1"
              disabled={
                wrong.length > 0 || (typing && values.length === 0 && done.length === 0 && !note)
              }
              onClick={submit}
            >
              {asked ? t("rounds.confirmAndContinue") : t("rounds.next")}
            </Button>
            <Button size="xl" variant="outline" onClick={() => setSkipping(true)}>
              {t("rounds.skip")}
            </Button>
          </Flex>
        </>
      )}
    </Box>
  );
}

interface FigureProps {
  channel: RoundChannel;
  label: string;
  text: string;
  active: boolean;
  time: FarmTime;
  choose: () => void;
  change: (text: string) => void;
}

function Figure({ channel, label, text, active, time, choose, change }: FigureProps) {
  const state = judged(text, channel).state;
  const bad = state === "impossible" || state === "unreadable";
  return (
    <Flex
      align="center"
      gap="3"
      py="2"
      px="2"
      borderBottomWidth="1px"
      borderColor="rule"
      bg={active ? "bed" : "transparent"}
      onClick={choose}
    >
      <Box w="72px" fontWeight="600">
        {label}
      </Box>
      <Box flex="1" fontSize="sm" color="inkSoft">
        {channel.last === null
          ? t("rounds.neverReadIn", { unitName: unitName(channel.unit) })
          : t("rounds.last3", {
              last: channel.last,
              unitName: unitName(channel.unit),
              lastDay: time.day(new Date(channel.last_at ?? time.now)),
            })}
        {bad && (
          <Text color="rust" fontWeight="600">
            {state === "unreadable" ? t("rounds.notANumber") : t("rounds.notPossibleEnterItAgain")}
          </Text>
        )}
      </Box>
      <Box>
        <input
          aria-label={`${label}, ${unitName(channel.unit)}`}
          // The page's own keys are larger than the phone's.
          inputMode="none"
          value={text}
          onFocus={choose}
          onChange={(e) => change(e.target.value)}
          style={{
            width: "104px",
            fontSize: "28px",
            textAlign: "right",
            background: "transparent",
            borderBottom: "2px solid currentColor",
          }}
        />
      </Box>
    </Flex>
  );
}

/** What is thought to be wrong near by, and what would settle it. */
function Checks({ stop }: { stop: Stop }) {
  // What a phone kept from before there were any has none.
  const checks: Stop["checks"] | undefined = stop.checks;
  if (!checks?.length) return null;
  return (
    <Box as="section" aria-label={t("rounds.toLookAt")} mt="3">
      <Heading as="h3" size="sm">
        {t("rounds.toLookAt")}
      </Heading>
      {checks.map((c) => (
        <Text key={c.finding_id} fontSize="sm">
          <Text as="span" fontWeight="700">
            {c.name}:
          </Text>{" "}
          {c.check}
        </Text>
      ))}
    </Box>
  );
}
