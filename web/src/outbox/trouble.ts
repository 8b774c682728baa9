import { Refusal } from "../api/client";
import { t } from "./t";

/** Why nothing could be sent, in words. */
export function troubleOf(error: unknown): string {
  if (!(error instanceof Refusal)) return t("outbox.failed");
  if (error.status === 0) return t("outbox.noSignal");
  if (error.status === 401) return t("outbox.signedOut");
  return error.message;
}
