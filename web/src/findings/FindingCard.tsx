import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState, type ReactNode } from "react";
import { LinkButton } from "../app/LinkButton";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { Decided } from "./Decided";
import { DecisionSheet, type Kind } from "./DecisionSheet";
import { EvidenceTable } from "./EvidenceTable";
import { useUndoFindingDecision, type Finding } from "./queries";
import { t } from "./t";
import { costWords, placeWords, seenWords, typicalWords } from "./words";

interface Props {
  finding: Finding;
  time: FarmTime;
  /** Named where findings of several blocks stand together. */
  block: ReactNode;
  /** Shows its evidence on a graph. */
  show: ReactNode;
}

/** A claim, what it rests on, what a week of leaving it costs, and what to do about it. */
export function FindingCard({ finding, time, block, show }: Props) {
  const { farm, units, may } = useSignedIn();
  const [open, setOpen] = useState(false);
  const [kind, setKind] = useState<Kind | null>(null);
  const undo = useUndoFindingDecision(farm.slug);
  const last = finding.decisions.at(-1);
  const name = `finding-${finding.id}`;
  return (
    <Box
      as="li"
      listStyleType="none"
      borderTopWidth="1px"
      borderColor="rule"
      py="3"
      aria-labelledby={name}
    >
      <Flex columnGap="3" wrap="wrap" align="baseline">
        <Heading as="h3" size="md" id={name}>
          {finding.name}
        </Heading>
        <Text color="inkSoft" fontSize="sm">
          {block}
          {block && " · "}
          {placeWords(finding, units)}
        </Text>
      </Flex>
      <Text>
        {finding.seen} {typicalWords(finding, units)}
      </Text>
      <Text fontSize="sm" color="inkSoft">
        {[
          finding.status === "confirmed"
            ? t("findings.confirmed")
            : t("findings.likely", { percent: Math.round(finding.likelihood * 100) }),
          costWords(finding, units),
          seenWords(finding, time),
        ].join(" · ")}
      </Text>
      <Text mt="1">
        <Text as="span" fontWeight="700">
          {t("findings.check")}:
        </Text>{" "}
        {finding.check}
      </Text>
      <Text fontSize="sm">
        <Text as="span" color="inkSoft">
          {t("findings.changes")}:
        </Text>{" "}
        {finding.changes}
      </Text>
      <Decided finding={finding} time={time} />
      <Flex gap="2" wrap="wrap" mt="2" align="center">
        {may("record_readings") && !finding.lapsed_at && (
          <>
            {finding.status !== "confirmed" && (
              <Button size="xs" onClick={() => setKind("confirmed")}>
                {t("findings.confirm")}
              </Button>
            )}
            <Button size="xs" variant="outline" onClick={() => setKind("done")}>
              {t("findings.markDone")}
            </Button>
            <Button size="xs" variant="outline" onClick={() => setKind("dismissed")}>
              {t("findings.dismiss")}
            </Button>
          </>
        )}
        {show}
        <LinkButton aria-expanded={open} onClick={() => setOpen(!open)}>
          {open
            ? t("findings.hideEvidence")
            : t("findings.showEvidence", { count: finding.evidence.length })}
        </LinkButton>
        {last && may("record_readings") && (
          <LinkButton onClick={() => undo.mutate(last.id)}>{t("findings.undo")}</LinkButton>
        )}
      </Flex>
      {undo.error && <Notice error={undo.error} />}
      {open && <EvidenceTable finding={finding} time={time} units={units} />}
      {kind && (
        <DecisionSheet finding={finding} kind={kind} slug={farm.slug} close={() => setKind(null)} />
      )}
    </Box>
  );
}
