import { Refusal } from "../api/client";

interface WithPhoto {
  photo: Blob | null;
}

/** Sends the pictures of what waits, before it, so that an entry leaves the phone only when all of
    it is sent; what is kept then has none any more. */
export async function sendPictures<E extends WithPhoto>(
  waiting: E[],
  send: (entry: E, photo: Blob) => Promise<unknown>,
  keep: (entry: E) => Promise<void>,
): Promise<void> {
  for (const entry of waiting) {
    if (!entry.photo) continue;
    try {
      // oxlint-disable-next-line no-await-in-loop -- on a thin line two would hinder each other
      await send(entry, entry.photo);
    } catch (error) {
      // What is no picture will never be one; anything else is tried again with its entry.
      if (!(error instanceof Refusal) || error.status !== 422) throw error;
    }
    // oxlint-disable-next-line no-await-in-loop
    await keep({ ...entry, photo: null });
  }
}
