/* Rounds go to the server when there is a way; each stays on the phone until it is taken. */
import { Refusal } from "../api/client";
import { troubleOf } from "../outbox/trouble";
import { sendRound } from "./queries";
import { dropRound, keepRound, roundsOf } from "./roundStore";

const UNPROCESSABLE = 422;

/** Sends what waits, the oldest first; a round that is refused stays, with its reason, until a
    person does something about it. */
export async function sendRounds(
  slug: string,
  send: typeof sendRound = sendRound,
): Promise<{ sent: number; trouble: string }> {
  const waiting = (await roundsOf(slug)).filter((u) => u.refused === "");
  let sent = 0;
  for (const entry of waiting) {
    try {
      // oxlint-disable-next-line no-await-in-loop -- on a thin line two would hinder each other
      await send(slug, entry.block.id, entry.round);
    } catch (error) {
      if (!isRefused(error)) return { sent, trouble: troubleOf(error) };
      // oxlint-disable-next-line no-await-in-loop
      await keepRound({ ...entry, refused: whyRefused(error) });
      continue;
    }
    // oxlint-disable-next-line no-await-in-loop
    await dropRound(entry.key);
    sent += 1;
  }
  return { sent, trouble: "" };
}

/** What is wrong with the round itself will not mend by trying again: its readings, a block that is
    gone, or a right that was taken away. */
function isRefused(error: unknown): error is Refusal {
  return error instanceof Refusal && [403, 404, UNPROCESSABLE].includes(error.status);
}

function whyRefused(error: Refusal): string {
  return [error.message, ...error.problems.map((p) => p.message)].filter(Boolean).join(" ");
}
