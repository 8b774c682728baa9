/* Visits go to the server when there is a way; each stays on the phone until it is taken. */
import { sendPictures } from "../outbox/sendPictures";
import { troubleOf } from "../outbox/trouble";
import { sendPhoto, sendVisits, type VisitOut } from "./queries";
import { dropUnsent, keepUnsent, unsentOf, type Unsent } from "./store";

export type Sender = typeof sendVisits;

export interface SendingReport {
  sent: number;
  left: number;
  /** Why nothing could be sent; empty when it could. */
  trouble: string;
}

const AT_ONCE = 50;

function why(answer: VisitOut): string {
  return [answer.message, ...answer.problems.map((p) => p.message)].filter(Boolean).join(" ");
}

/** Sends what waits, in parts; what was refused stays, with its reason, and is not asked again
    until a person does something about it. */
export async function sendWaiting(slug: string, send: Sender = sendVisits): Promise<SendingReport> {
  const waiting = (await unsentOf(slug)).filter((u) => u.refused === "");
  let sent = 0;
  for (let start = 0; start < waiting.length; start += AT_ONCE) {
    const part = waiting.slice(start, start + AT_ONCE);
    let answers: VisitOut[];
    try {
      // Parts go one after the other: on a thin line two would only hinder each other.
      // oxlint-disable-next-line no-await-in-loop
      await sendPictures(
        part,
        (entry, photo) => sendPhoto(slug, entry.visit.instrument_id, entry.key, photo),
        keepUnsent,
      );
      // oxlint-disable-next-line no-await-in-loop
      answers = await send(slug, part.map(aged));
    } catch (error) {
      return { sent, left: (await unsentOf(slug)).length, trouble: troubleOf(error) };
    }
    // oxlint-disable-next-line no-await-in-loop
    sent += await settle(part, answers);
  }
  return { sent, left: (await unsentOf(slug)).length, trouble: "" };
}

/** The visit with its age by the phone's own watch, so that a wrong clock does no harm. */
function aged(entry: Unsent) {
  return { ...entry.visit, age_seconds: Math.max((Date.now() - entry.madeAt) / 1000, 0) };
}

async function settle(part: Unsent[], answers: VisitOut[]): Promise<number> {
  let taken = 0;
  await Promise.all(
    answers.map(async (answer) => {
      const entry = part.find((u) => u.key === answer.key);
      if (!entry) return;
      if (answer.taken) {
        taken += 1;
        await dropUnsent(entry.key);
      } else {
        await keepUnsent({ ...entry, photo: null, refused: why(answer) });
      }
    }),
  );
  return taken;
}
