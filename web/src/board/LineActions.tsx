import { Button, Flex } from "@chakra-ui/react";
import type { BoardRow } from "./queries";
import { t } from "./t";

export type Deed = "accept" | "change" | "decline" | "undo";
export type Act = (row: BoardRow, deed: Deed) => void;

/** Whether there is a set to give: advised, and not decided on yet. */
export function canGive(row: BoardRow): boolean {
  return row.decision === null && row.answer.start_at !== null && row.answer.amount !== null;
}

const DUE = ["below_refill", "irrigate_now", "irrigate_soon"];

/** Whether it wants to be given within three days. */
export function isDue(row: BoardRow): boolean {
  return canGive(row) && DUE.includes(row.answer.state);
}

/** What a manager can do with a line, without opening it. */
export function LineActions({ row, act }: { row: BoardRow; act: Act }) {
  const { decision } = row;
  return (
    <Flex
      gap="1"
      justify={{ base: "flex-start", md: "flex-end" }}
      ps={{ base: "32px", md: "0" }}
      pb={{ base: "2", md: "0" }}
    >
      {decision ? (
        <Button
          size="xs"
          variant="outline"
          title={t("board.undo", { kind: t(`decision.${decision.kind}`) })}
          aria-label={t("board.undoTheDecisionFor", { name: row.name })}
          onClick={() => act(row, "undo")}
        >
          {decision.kind === "declined" ? t("board.skipped") : t("board.scheduled")} ↺
        </Button>
      ) : (
        <>
          {isDue(row) && (
            <Button
              size="xs"
              aria-label={t("board.scheduleIrrigationFor", { name: row.name })}
              onClick={() => act(row, "accept")}
            >
              {t("board.schedule")}
            </Button>
          )}
          <Button
            size="xs"
            variant="ghost"
            px="1.5"
            aria-label={t("board.adjustOrSkipTheIrrigationOf", { name: row.name })}
            onClick={() => act(row, "change")}
          >
            …
          </Button>
        </>
      )}
    </Flex>
  );
}
