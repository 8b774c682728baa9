import { Box, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { t } from "./t";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import type { Summary } from "./queries";

type Concern = Schemas["InstrumentConcern"];

function concernWords(concern: Concern): string {
  const wrong = [];
  if (concern.silent) wrong.push(t("summary.noReadingsLately"));
  if (concern.needs_calibration) wrong.push(t("summary.noCalibrationCurve"));
  if (!concern.silent && concern.reliable !== null && concern.reliable < 1) {
    const percent = Math.floor(concern.reliable * 100);
    wrong.push(t("summary.ofTheReadingsAreReliable", { percent }));
  }
  return wrong.join(", ");
}

/** Questions to settle, blocks without data or on hold, instruments that are not in order. */
export function Attention({ summary, time }: { summary: Summary; time: FarmTime }) {
  const { farm } = useSignedIn();
  const block = (id: number, name: string) => <Link to={`/${farm.slug}/blocks/${id}`}>{name}</Link>;
  const found: { key: string; line: ReactNode }[] = [
    ...summary.asked.map((a) => ({
      key: `asked ${a.block_id}`,
      line: (
        <>
          {block(a.block_id, a.block)}: {t(`question.${a.kind}`)}
        </>
      ),
    })),
    ...summary.no_data.map((n) => ({
      key: `data ${n.block_id}`,
      line: (
        <>
          {block(n.block_id, n.block)}: {t("state.no_reliable_data")}.{" "}
          {n.reasons.map((r) => t(`reason.${r}`)).join(" ")}
        </>
      ),
    })),
    ...summary.on_hold.map((h) => ({
      key: `hold ${h.block_id}`,
      line: (
        <>
          {block(h.block_id, h.block)}:{" "}
          {t("summary.onHoldUntil", {
            until: h.until === null ? "–" : time.full(new Date(h.until)),
            why: t(`hold.${h.hold}`),
          })}
        </>
      ),
    })),
    ...summary.instruments.map((i) => ({
      key: `instrument ${i.instrument_id}`,
      line: (
        <>
          <Link to={`/${farm.slug}/instruments/${i.instrument_id}`}>{i.label}</Link> ({i.block}):{" "}
          {concernWords(i)}
        </>
      ),
    })),
  ];
  if (summary.overdue_tasks > 0) {
    found.push({
      key: "tasks",
      line: (
        <Link to={`/${farm.slug}/farm/instruments`}>
          {t("summary.overdueMaintenance", { count: summary.overdue_tasks })}
        </Link>
      ),
    });
  }
  if (found.length === 0) return <Text color="inkSoft">{t("summary.nothing")}</Text>;
  return (
    <Box as="ul" listStyleType="none" p="0" m="0">
      {found.map(({ key, line }) => (
        <Text as="li" key={key} py="0.5">
          {line}
        </Text>
      ))}
    </Box>
  );
}
