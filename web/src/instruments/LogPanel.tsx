import { Box, Button, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { CautionNote } from "../app/CautionNote";
import { LinkButton } from "../app/LinkButton";
import { Notice } from "../app/Notice";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { Tick } from "../form/Tick";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { useAddEvent, useRemoveEvent, type Detail, type LogKind } from "./queries";
import { unitName } from "./words";
import { t } from "./t";

const KINDS: { value: LogKind; label: string; setUp: boolean }[] = [
  { value: "note", label: t("instruments.note"), setUp: false },
  { value: "suspect", label: t("instruments.suspectExcluded"), setUp: false },
  { value: "cleared", label: t("instruments.clearedReadsCorrectly"), setUp: true },
  { value: "prepared", label: t("instruments.preparedForInstallation"), setUp: true },
  { value: "installed", label: t("instruments.installed"), setUp: true },
  { value: "replaced", label: t("instruments.replacedByANewOne"), setUp: true },
  { value: "retired", label: t("instruments.retired"), setUp: true },
];
const LATELY = 4;
const WITH_LIST = new Set<LogKind>(["prepared", "installed", "replaced"]);

/** The life of the instrument, newest first, and the next entry. */
export function LogPanel({ detail, time }: { detail: Detail; time: FarmTime }) {
  const { farm, may } = useSignedIn();
  const remove = useRemoveEvent(farm.slug, detail.health.id);
  const [writing, setWriting] = useState(false);
  const [all, setAll] = useState(false);
  const shown = all ? detail.events : detail.events.slice(0, LATELY);
  return (
    <Box as="section" aria-label={t("instruments.log")} mb="6">
      <Heading as="h2" size="md">
        {t("instruments.log")}
      </Heading>
      {may("record_readings") &&
        (writing ? (
          <NewEntry detail={detail} close={() => setWriting(false)} />
        ) : (
          <Button size="sm" variant="outline" my="2" onClick={() => setWriting(true)}>
            {t("instruments.addEntry")}
          </Button>
        ))}
      {detail.events.length === 0 && (
        <Text fontSize="sm" color="inkSoft">
          {t("instruments.noEntriesYetWithoutALogThe")}
        </Text>
      )}
      {shown.map((e) => (
        <Box key={e.id} mt="2" fontSize="sm" borderLeftWidth="2px" borderColor="rule" ps="3">
          <Text>
            <Text as="span" fontWeight="600">
              {t(`log.${e.kind}`)}
            </Text>{" "}
            {time.full(new Date(e.at))}
            {e.made_by && `, ${e.made_by}`}
          </Text>
          {e.note && <Text>{e.note}</Text>}
          {e.done.length > 0 && (
            <Text color="inkSoft">
              {WITH_LIST.has(e.kind)
                ? t("instruments.ofStepsOfTheChecklist", {
                    count: e.done.length,
                    count2: detail.install.length,
                  })
                : e.done
                    .map((d) => detail.tasks.find((task) => task.key === d)?.name ?? d)
                    .join("; ")}
            </Text>
          )}
          {e.proof !== null && (
            <Text color={e.passed === false ? "rust" : "inkSoft"}>
              {t("instruments.proofReading", {
                proof: e.proof,
                unitName: unitName(detail.proof_unit),
              })}
              {e.passed !== null &&
                (e.passed ? t("instruments.asExpected") : t("instruments.notAsExpected"))}
            </Text>
          )}
          {may("set_up_ground") && (
            <LinkButton fontSize="xs" onClick={() => remove.mutate(e.id)}>
              {t("instruments.remove")}
            </LinkButton>
          )}
        </Box>
      ))}
      {detail.events.length > LATELY && (
        <LinkButton mt="2" onClick={() => setAll(!all)}>
          {all
            ? t("instruments.showFewer")
            : t("instruments.showAllEntries", { count: detail.events.length })}
        </LinkButton>
      )}
      {remove.error && <Notice error={remove.error} />}
    </Box>
  );
}

function NewEntry({ detail, close }: { detail: Detail; close: () => void }) {
  const { farm, may } = useSignedIn();
  const add = useAddEvent(farm.slug, detail.health.id);
  const [kind, setKind] = useState<LogKind>("note");
  const [note, setNote] = useState("");
  const [proof, setProof] = useState("");
  const [done, setDone] = useState<string[]>([]);
  const problems = problemsOf(add.error);
  const list = WITH_LIST.has(kind);
  const proofValue = proof.trim() === "" ? null : Number(proof.replace(",", "."));
  return (
    <Box mt="3" borderWidth="1px" borderColor="rule" borderRadius="4px" p="3" bg="sheet">
      <Choice label={t("instruments.event")} value={kind} change={(v) => setKind(v as LogKind)}>
        {KINDS.filter((k) => !k.setUp || may("set_up_ground")).map((k) => (
          <option key={k.value} value={k.value}>
            {k.label}
          </option>
        ))}
      </Choice>
      {list && (
        <>
          {detail.cautions.map((c) => (
            <CautionNote key={c.title} title={c.title}>
              {c.text}
            </CautionNote>
          ))}
          <Box mt="2">
            {detail.install.map((step) => (
              <Box key={step.key} mt="1">
                <Tick
                  label={step.text}
                  on={done.includes(step.key)}
                  change={(on) =>
                    setDone(on ? [...done, step.key] : done.filter((s) => s !== step.key))
                  }
                />
              </Box>
            ))}
          </Box>
          {detail.proof && (
            <Box mt="2">
              <Line
                label={t("instruments.proofReading2", { unitName: unitName(detail.proof_unit) })}
                value={proof}
                change={setProof}
                numeric
                help={detail.proof}
                error={
                  proofValue !== null && Number.isNaN(proofValue)
                    ? t("instruments.enterANumber")
                    : undefined
                }
              />
            </Box>
          )}
        </>
      )}
      <Box mt="2">
        <Line
          label={t("instruments.note2")}
          value={note}
          change={setNote}
          error={problems["note"]}
        />
      </Box>
      {add.error && !problems["note"] && <Notice error={add.error} />}
      <Button
        size="sm"
        mt="3"
        loading={add.isPending}
        disabled={Number.isNaN(proofValue)}
        onClick={() =>
          add.mutate(
            { kind, at: null, note, done: list ? done : [], proof: list ? proofValue : null },
            { onSuccess: close },
          )
        }
      >
        {t("instruments.addEntry")}
      </Button>
      <Button size="sm" variant="ghost" mt="3" ms="2" onClick={close}>
        {t("instruments.cancel")}
      </Button>
    </Box>
  );
}
