/* Reports go to the server when there is a way; each stays on the phone until it is taken. */
import { sendPictures } from "../outbox/sendPictures";
import { troubleOf } from "../outbox/trouble";
import { sendPhoto, sendReports, type ReportIn, type ReportOut } from "./queries";
import { dropUnsent, keepUnsent, unsentOf, type Unsent } from "./store";

export interface SendingReport {
  sent: number;
  /** Why nothing could be sent; empty when it could. */
  trouble: string;
}

const AT_ONCE = 100;

/** Sends what waits, the oldest first, for a stop can't be taken before its start. */
export async function sendWaiting(
  slug: string,
  send: typeof sendReports = sendReports,
  picture: typeof sendPhoto = sendPhoto,
): Promise<SendingReport> {
  const waiting = (await unsentOf(slug)).filter((u) => u.refused === "").slice(0, AT_ONCE);
  if (waiting.length === 0) return { sent: 0, trouble: "" };
  let answers: ReportOut[];
  try {
    await sendPictures(waiting, (entry, photo) => picture(slug, entry.key, photo), keepUnsent);
    answers = await send(slug, waiting.map(aged));
  } catch (error) {
    return { sent: 0, trouble: troubleOf(error) };
  }
  const taken = answers.filter((a) => a.taken);
  await Promise.all(
    answers.map(async (answer) => {
      const entry = waiting.find((u) => u.key === answer.key);
      if (!entry) return;
      if (answer.taken) await dropUnsent(entry.key);
      else await keepUnsent({ ...entry, photo: null, refused: refusalOf(answer) });
    }),
  );
  return { sent: taken.length, trouble: "" };
}

function refusalOf(answer: ReportOut): string {
  return [answer.message, ...answer.problems.map((p) => p.message)].filter(Boolean).join(" ");
}

/** The report with its age by the phone's own watch, so that a wrong clock does no harm. */
function aged(entry: Unsent): ReportIn {
  return { ...entry.report, age_seconds: Math.max((Date.now() - entry.madeAt) / 1000, 0) };
}
