import { Grid } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { DateLine } from "../form/DateLine";
import { FileButton } from "../form/FileButton";
import { FormSheet } from "../form/FormSheet";
import { Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useDecideFinding, type Decision, type Finding } from "./queries";
import { t } from "./t";

export type Kind = Exclude<Decision["status"], "open">;

const WORDS: Record<Kind, { button: string; note: string }> = {
  confirmed: { button: t("findings.confirm"), note: t("findings.whatWasFound") },
  dismissed: { button: t("findings.dismiss"), note: t("findings.why") },
  done: { button: t("findings.markDone"), note: t("findings.whatWasDone") },
};

const TITLES: Record<Kind, (name: string) => string> = {
  confirmed: (name) => t("findings.confirmTitle", { name }),
  dismissed: (name) => t("findings.dismissTitle", { name }),
  done: (name) => t("findings.doneTitle", { name }),
};

interface Props {
  finding: Finding;
  kind: Kind;
  slug: string;
  close: () => void;
}

/** Says what was found in the field, why it is nothing, or what was done about it. */
export function DecisionSheet({ finding, kind, slug, close }: Props) {
  const decide = useDecideFinding(slug);
  const [note, setNote] = useState("");
  const [until, setUntil] = useState("");
  const [photo, setPhoto] = useState<File | null>(null);
  const problems = problemsOf(decide.error);
  return (
    <FormSheet
      title={TITLES[kind](finding.name)}
      close={close}
      save={() =>
        decide.mutate(
          { id: finding.id, body: { status: kind, note, until: until || null }, photo },
          { onSuccess: close },
        )
      }
      words={WORDS[kind].button}
      pending={decide.isPending}
    >
      <Grid gap="3">
        <Line label={WORDS[kind].note} value={note} change={setNote} error={problems["note"]} />
        {kind === "dismissed" ? (
          <DateLine
            label={t("findings.until")}
            value={until}
            change={setUntil}
            error={problems["until"]}
            help={t("findings.untilHelp")}
          />
        ) : (
          <FileButton
            accept="image/jpeg,image/png,image/webp"
            file={photo}
            choose={setPhoto}
            label={t("findings.addPicture")}
          />
        )}
      </Grid>
      {decide.error && <Notice error={decide.error} />}
    </FormSheet>
  );
}
