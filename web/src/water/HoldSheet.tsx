import { Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { HOLDS, type Hold } from "../answer/words";
import { Notice } from "../app/Notice";
import { MomentLine } from "../form/MomentLine";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { FormSheet } from "../form/FormSheet";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { localInput } from "../time/localInput";
import { useHoldBlocks } from "./queries";
import { t } from "./t";

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
  return (
    <FormSheet
      title={t("water.holdIrrigationOf", { name: block.name })}
      close={close}
      save={() =>
        hold.mutate(
          { block_ids: [block.id], kind, starts_at: from, ends_at: until, note },
          { onSuccess: close },
        )
      }
      words={t("water.holdIrrigation")}
      pending={hold.isPending}
    >
      <Grid gap="3">
        <Choice label={t("water.reason")} value={kind} change={(v) => setKind(v as Hold)}>
          {HOLDS.map((one) => (
            <option key={one} value={one}>
              {t(`hold.${one}`)}
            </option>
          ))}
        </Choice>
        <MomentLine
          label={t("water.from")}
          value={from}
          change={setFrom}
          error={problems["starts_at"]}
        />
        <MomentLine
          label={t("water.until")}
          value={until}
          change={setUntil}
          error={problems["ends_at"]}
        />
        <Line label={t("water.note")} value={note} change={setNote} error={problems["note"]} />
      </Grid>
      <Text fontSize="xs" color="inkSoft" mt="3">
        {t("water.reEntryAndWaitingTimesAfterA")}
      </Text>
      {hold.error && <Notice error={hold.error} />}
    </FormSheet>
  );
}
