import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { useRemoveEvent } from "../instruments/queries";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { withUnit } from "../units/format";
import { NoteSheet } from "./NoteSheet";
import type { Note } from "./queries";
import { t } from "./t";

interface Props {
  instrument: { id: number; label: string };
  depthMm: number[];
  /** Of this instrument, the newest first. */
  notes: Note[];
  /** The moment that was chosen on the graph. */
  moment: Date | null;
  time: FarmTime;
}

/** What people wrote about a time and a depth, and a way to write. */
export function Notes({ instrument, depthMm, notes, moment, time }: Props) {
  const { farm, units, may } = useSignedIn();
  const [writing, setWriting] = useState(false);
  const remove = useRemoveEvent(farm.slug, instrument.id);
  return (
    <Box as="section" aria-labelledby="notes" mt="4">
      <Flex align="baseline" gap="3" wrap="wrap">
        <Heading as="h3" id="notes" size="md">
          {t("notes.notes")}
        </Heading>
        {may("record_readings") && (
          <Button size="xs" variant="outline" onClick={() => setWriting(true)}>
            {moment
              ? t("notes.writeNoteOf", { at: `${time.date(moment)} ${time.clock(moment)}` })
              : t("notes.writeNote")}
          </Button>
        )}
      </Flex>
      {notes.length === 0 ? (
        <Text fontSize="sm" color="inkSoft">
          {t("notes.noNotes")}
        </Text>
      ) : (
        <Box as="ul" listStyleType="none" p="0" m="0">
          {notes.map((note) => (
            <Flex as="li" key={note.id} gap="3" align="baseline" wrap="wrap">
              <Text fontSize="sm" color="inkSoft" minW={{ base: "100%", md: "170px" }}>
                {noteTime(note, time, units)}
              </Text>
              <Text fontSize="sm" flex="1" minW="0">
                {note.made_by ? t("notes.by", { note: note.note, by: note.made_by }) : note.note}
              </Text>
              {may("set_up_ground") && (
                <Button
                  size="xs"
                  variant="ghost"
                  aria-label={t("notes.removeNoteOf", { at: noteTime(note, time, units) })}
                  disabled={remove.isPending}
                  onClick={() => remove.mutate(note.id)}
                >
                  {t("notes.remove")}
                </Button>
              )}
            </Flex>
          ))}
        </Box>
      )}
      {remove.error && <Notice error={remove.error} />}
      {writing && (
        <NoteSheet
          instrument={instrument}
          depthMm={depthMm}
          moment={moment ?? time.now}
          time={time}
          close={() => setWriting(false)}
        />
      )}
    </Box>
  );
}

/** "14 July 06:10 · 30 cm". */
function noteTime(note: Note, time: FarmTime, units: Parameters<typeof withUnit>[1]): string {
  const at = new Date(note.at);
  const when = `${time.date(at)} ${time.clock(at)}`;
  return note.depth_mm === null
    ? when
    : t("notes.atDepth", { at: when, depth: withUnit(note.depth_mm, units, "depth") });
}
