import { Button, Field, Grid, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import { HOLD_WORDS, type Hold } from "../answer/words";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { localInput } from "../time/localInput";
import { useHoldBlocks } from "./queries";

interface Props {
  block: { id: number; name: string };
  time: FarmTime;
  close: () => void;
}

/** Keeps water off a block for a while: a cut, a spray, the wind. */
export function HoldSheet({ block, time, close }: Props) {
  const { farm } = useSignedIn();
  const hold = useHoldBlocks(farm.slug);
  const [kind, setKind] = useState<Hold>("spray");
  const [from, setFrom] = useState(() => localInput(time));
  const [until, setUntil] = useState(() => localInput(time, time.at(24)));
  const [note, setNote] = useState("");
  const problems = problemsOf(hold.error);
  const footer = (
    <>
      <Button variant="ghost" size="sm" onClick={close}>
        Cancel
      </Button>
      <Button
        size="sm"
        loading={hold.isPending}
        onClick={() =>
          hold.mutate(
            { block_ids: [block.id], kind, starts_at: from, ends_at: until, note },
            { onSuccess: close },
          )
        }
      >
        Keep water off
      </Button>
    </>
  );
  const moment = (label: string, value: string, change: (v: string) => void, path: string) => (
    <Field.Root invalid={Boolean(problems[path])}>
      <Field.Label>{label}</Field.Label>
      <Input
        size="sm"
        bg="sheet"
        type="datetime-local"
        value={value}
        onChange={(e) => change(e.target.value)}
      />
      <Field.ErrorText>{problems[path]}</Field.ErrorText>
    </Field.Root>
  );
  return (
    <Sheet title={`No water on ${block.name}`} close={close} footer={footer}>
      <Grid gap="3">
        <Choice label="For" value={kind} change={(v) => setKind(v as Hold)}>
          {Object.entries(HOLD_WORDS).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </Choice>
        {moment("From", from, setFrom, "starts_at")}
        {moment("Until", until, setUntil, "ends_at")}
        <Line label="Note" value={note} change={setNote} error={problems["note"]} />
      </Grid>
      <Text fontSize="xs" color="inkSoft" mt="3">
        Re-entry and waiting times after a spray are what its label and local code say.
      </Text>
      {hold.error && <Notice error={hold.error} />}
    </Sheet>
  );
}
