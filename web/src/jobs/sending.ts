/* Reports go to the server when there is a way; each stays on the phone until it is taken. */
import { Refusal } from "../api/client";
import { sendPhoto, sendReports, type ReportIn, type ReportOut } from "./queries";
import { dropUnsent, keepUnsent, unsentOf, type Unsent } from "./store";
import { t } from "./t";

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
    await sendPhotos(slug, waiting, picture);
    answers = await send(slug, waiting.map(aged));
  } catch (error) {
    return { sent: 0, trouble: spoken(error) };
  }
  const taken = answers.filter((a) => a.taken);
  await Promise.all(
    answers.map(async (answer) => {
      const entry = waiting.find((u) => u.key === answer.key);
      if (!entry) return;
      if (answer.taken) await dropUnsent(entry.key);
      else await keepUnsent({ ...entry, refused: refusalOf(answer) });
    }),
  );
  return { sent: taken.length, trouble: "" };
}

/** Pictures go first, so that a report leaves the phone only when all of it is sent. */
async function sendPhotos(slug: string, waiting: Unsent[], send: typeof sendPhoto): Promise<void> {
  for (const entry of waiting) {
    if (!entry.photo) continue;
    try {
      // oxlint-disable-next-line no-await-in-loop -- on a thin line two would hinder each other
      await send(slug, entry.key, entry.photo);
    } catch (error) {
      // What is no picture will never be one; anything else is tried again with the report.
      if (!(error instanceof Refusal) || error.status !== 422) throw error;
    }
    entry.photo = null;
    // oxlint-disable-next-line no-await-in-loop
    await keepUnsent(entry);
  }
}

function refusalOf(answer: ReportOut): string {
  return [answer.message, ...answer.problems.map((p) => p.message)].filter(Boolean).join(" ");
}

/** The report with its age by the phone's own watch, so that a wrong clock does no harm. */
function aged(entry: Unsent): ReportIn {
  return { ...entry.report, age_seconds: Math.max((Date.now() - entry.madeAt) / 1000, 0) };
}

function spoken(error: unknown): string {
  if (!(error instanceof Refusal)) return t("jobs.sendingFailed");
  if (error.status === 0) return t("jobs.noSignal");
  if (error.status === 401) return t("jobs.signedOut");
  return error.message;
}
