import { Grid } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Choice, Line } from "../form/Labelled";
import { MomentLine } from "../form/MomentLine";
import { problemsOf } from "../form/problems";
import { useAddEvent } from "../instruments/queries";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { localInput } from "../time/localInput";
import { withUnit } from "../units/format";
import { t } from "./t";

interface Props {
  instrument: { id: number; label: string };
  depthMm: number[];
  moment: Date;
  time: FarmTime;
  close: () => void;
}

/** Writes about a time and, where it is said, a depth into an instrument's log. */
export function NoteSheet({ instrument, depthMm, moment, time, close }: Props) {
  const { farm, units } = useSignedIn();
  const add = useAddEvent(farm.slug, instrument.id);
  const [at, setAt] = useState(() => localInput(time, moment));
  const [depth, setDepth] = useState("");
  const [note, setNote] = useState("");
  const problems = problemsOf(add.error);
  return (
    <FormSheet
      title={t("notes.noteOn", { instrument: instrument.label })}
      close={close}
      save={() =>
        add.mutate(
          { kind: "note", at: at || null, note, depth_mm: depth ? Number(depth) : null, done: [] },
          { onSuccess: close },
        )
      }
      words={t("notes.save")}
      pending={add.isPending}
      disabled={note.trim() === ""}
    >
      <Grid gap="3">
        <MomentLine label={t("notes.when")} value={at} change={setAt} error={problems["at"]} />
        <Choice
          label={t("notes.depth")}
          value={depth}
          change={setDepth}
          error={problems["depth_mm"]}
        >
          <option value="">{t("notes.allDepths")}</option>
          {depthMm.map((mm) => (
            <option key={mm} value={String(mm)}>
              {withUnit(mm, units, "depth")}
            </option>
          ))}
        </Choice>
        <Line label={t("notes.note")} value={note} change={setNote} error={problems["note"]} />
      </Grid>
      {add.error && <Notice error={add.error} />}
    </FormSheet>
  );
}
