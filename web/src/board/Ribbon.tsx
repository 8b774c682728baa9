import { scaleLinear } from "d3-scale";
import { memo, useMemo, useState, type PointerEvent } from "react";
import { Box, Text } from "@chakra-ui/react";
import { GivenMarks } from "../draw/GivenMarks";
import { ink } from "../theme/system";
import type { FarmTime } from "../time/farmTime";
import { waterShort, type UnitSystem } from "../units/format";
import type { Furrow } from "./queries";
import { ribbonShape, shareAt, pastBands } from "./ribbon";
import { t } from "./t";

export const PAST_HOURS = 168;
export const AHEAD_HOURS = 240;

/** Height of the line in which given water is written. */
const SETS_PX = 12;

interface Props {
  row: Furrow;
  width: number;
  height: number;
  time: FarmTime;
  units: UnitSystem;
}

/** What the ribbon says at an hour, for the pointer. */
function reading(row: Furrow, hours: number, units: UnitSystem): string {
  if (hours <= 0) {
    const share = shareAt(pastBands(row), hours);
    const near = row.past.reduce((a, b) =>
      Math.abs(b.hours - hours) < Math.abs(a.hours - hours) ? b : a,
    );
    if (share === null) return t("board.noReliableReading");
    const mm = share * near.raw_mm;
    const surplus = near.surplus_mm ?? 0;
    const over = surplus >= 1 ? t("board.aboveFull", { surplus: waterShort(surplus, units) }) : "";
    return mm < 0
      ? t("board.belowRefill", { mm: waterShort(-mm, units) })
      : t("board.aboveRefill", { mm: waterShort(mm, units), over });
  }
  const day = Math.min(Math.round(hours / 24), row.ahead.length - 1);
  const p = row.ahead[day];
  if (!p) return t("board.notKnown");
  const say = (v: number) =>
    v < 0 ? t("board.below", { v: waterShort(-v, units) }) : waterShort(v, units);
  return t("board.aboveRefillTo", {
    say: say(p.usable_mm),
    say2: say(p.dry_mm),
    say3: say(p.wet_mm),
  });
}

/** One furrow: a week measured, ten days expected, without further water. */
export const Ribbon = memo(function Ribbon({ row, width, height, time, units }: Props) {
  const [pointer, setPointer] = useState<number | null>(null);
  // Room above the bed for the water given.
  const half = (height - SETS_PX) * 0.36;
  const middle = SETS_PX + (height - SETS_PX) / 2;
  const x = useMemo(
    () => scaleLinear().domain([-PAST_HOURS, AHEAD_HOURS]).range([0, width]),
    [width],
  );
  const shape = useMemo(() => ribbonShape(row, x, middle, half), [row, x, middle, half]);
  const midnights = useMemo(() => time.midnights(-PAST_HOURS, AHEAD_HOURS), [time]);
  const { start_at, amount } = row.answer;
  const start = start_at ? Math.max(time.hoursTo(start_at), 0) : null;
  const planned = row.sets.filter(
    (s) => s.status !== "done" && s.end_hours > 0 && s.start_hours < AHEAD_HOURS,
  );
  const boxed = (from: number, to: number) => ({
    x: x(from),
    y: middle - half - 4,
    width: Math.max(x(Math.min(to, AHEAD_HOURS)) - x(from), 3),
    height: half * 2 + 8,
    rx: 2,
  });
  const noWord = row.answer.state === "no_reliable_data";

  function move(event: PointerEvent<SVGSVGElement>) {
    const box = event.currentTarget.getBoundingClientRect();
    setPointer(x.invert(event.clientX - box.left));
  }

  return (
    <Box position="relative">
      <svg
        width={width}
        height={height}
        aria-hidden
        focusable="false"
        display="block"
        onPointerMove={move}
        onPointerLeave={() => setPointer(null)}
      >
        <rect x={0} y={middle - half} width={x(0)} height={half * 2} fill={ink("bed")} />
        <rect
          x={x(0)}
          y={middle - half}
          width={width - x(0)}
          height={half * 2}
          fill={ink("bedAhead")}
        />
        {midnights.map((h) => (
          <line
            key={h}
            x1={x(h)}
            x2={x(h)}
            y1={middle - half}
            y2={middle + half}
            stroke={ink("rule")}
            strokeWidth={1}
          />
        ))}
        <path d={shape.swell} fill={ink("waterMid")} opacity={0.85} />
        <path d={shape.past} fill={ink("water")} />
        <path d={shape.wet} fill={ink("waterRim")} />
        <path d={shape.expected} fill={ink("waterMid")} />
        <path d={shape.dry} fill={ink("water")} />
        {shape.cracks.map((c) => (
          <path
            key={c.x}
            d={`M${c.x} ${middle - half * c.depth} l3 ${half * c.depth * 0.6} l-5 ${half * c.depth * 0.5} l3 ${half * c.depth * 0.9}`}
            fill="none"
            stroke={ink("rust")}
            strokeWidth={c.ahead ? 1.2 : 1.8}
            opacity={c.ahead ? 0.55 : 1}
          />
        ))}
        {shape.silent.map(([from, to]) => (
          <line
            key={from}
            x1={from}
            x2={noWord && to === x(0) ? width : to}
            y1={middle}
            y2={middle}
            stroke={ink("inkSoft")}
            strokeWidth={2}
            strokeDasharray="1 7"
            strokeLinecap="round"
          />
        ))}
        <GivenMarks
          given={row.sets
            .filter((s) => s.status !== "planned" && s.start_hours > -PAST_HOURS)
            .map((s) => ({ x: x(s.start_hours), mm: s.gross_mm }))}
          now={x(0)}
          units={units}
        />
        {planned.map((s) => (
          <rect
            key={s.id}
            {...boxed(Math.max(s.start_hours, 0), s.end_hours)}
            fill={ink("ink")}
            fillOpacity={0.14}
            stroke={ink("ink")}
            strokeWidth={2}
          />
        ))}
        {start !== null && amount && start < AHEAD_HOURS && row.answer.state !== "above_full" && (
          <rect
            {...boxed(start, start + (row.answer.run?.total_hours ?? amount.hours))}
            fill="none"
            stroke={ink("ink")}
            strokeWidth={1.6}
            strokeDasharray="5 3"
          />
        )}
        <line x1={x(0)} x2={x(0)} y1={0} y2={height} stroke={ink("ink")} strokeWidth={1.6} />
        {pointer !== null && (
          <line
            x1={x(pointer)}
            x2={x(pointer)}
            y1={0}
            y2={height}
            stroke={ink("ink")}
            strokeDasharray="2 2"
          />
        )}
      </svg>
      {pointer !== null && (
        <Box
          position="absolute"
          top={`${height - 2}px`}
          {...(x(pointer) > width / 2
            ? { right: `${width - x(pointer) + 6}px` }
            : { left: `${x(pointer) + 6}px` })}
          bg="ink"
          color="onInk"
          px="2"
          py="1"
          fontSize="xs"
          zIndex="5"
          pointerEvents="none"
          whiteSpace="nowrap"
          borderRadius="l1"
        >
          <Text fontWeight="600">{time.full(time.at(pointer))}</Text>
          <Text>{reading(row, pointer, units)}</Text>
        </Box>
      )}
    </Box>
  );
});
