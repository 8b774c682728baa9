import type { KeyboardEvent, PointerEvent } from "react";
import { ink } from "../theme/system";
import { runningTime, waterShort, type UnitSystem } from "../units/format";
import type { FarmTime } from "../time/farmTime";
import { cut } from "./cut";
import type { Bar } from "./lanes";
import type { PlotScale } from "./plotScale";
import type { SheetSet } from "./queries";
import { t } from "./t";

export const BAR_HEIGHT = 36;
/** So near to its end a bar is stretched, and not moved [px]. */
const EDGE = 9;
const GLYPH = 6.6;

interface Props {
  bar: Bar;
  scale: PlotScale;
  y: number;
  /** Where the next bar of the row begins: beside the bar is room up to there. */
  next: number;
  units: UnitSystem;
  time: FarmTime;
  chosen: boolean;
  broken: boolean;
  free: boolean;
  choose: () => void;
  grab: (event: PointerEvent<SVGGElement>, stretches: boolean) => void;
  press: (event: KeyboardEvent<SVGGElement>) => void;
}

type Looks = "draft" | "announced" | "running" | "done" | "standing";

const FILL: Record<Looks, string> = {
  draft: "sheet",
  announced: "waterRim",
  running: "water",
  done: "bed",
  standing: "waterRim",
};

function looksOf(bar: Bar): Looks {
  if (bar.standing) return bar.standing.running ? "running" : "standing";
  const status: SheetSet["status"] = bar.set?.status ?? "draft";
  return status === "cancelled" ? "done" : status;
}

const WORD: Record<Looks, () => string> = {
  draft: () => t("runsheet.statusDraft"),
  announced: () => t("runsheet.statusAnnounced"),
  running: () => t("runsheet.statusRunning"),
  done: () => t("runsheet.statusDone"),
  standing: () => t("runsheet.statusStanding"),
};

/** An irrigation as a bar from its start to its end. */
export function SetBar(props: Props) {
  const { bar, scale, y, next, units, time, chosen, broken, free, choose, grab, press } = props;
  const left = Math.max(scale.x(bar.starts), scale.left);
  const right = Math.min(scale.x(bar.ends), scale.right);
  if (right <= scale.left || left >= scale.right) return null;
  const wide = Math.max(right - left, 3);
  const looks = looksOf(bar);
  const hours = (bar.ends.getTime() - bar.starts.getTime()) / 3_600_000;
  const figures = `${runningTime(hours)} · ${waterShort(bar.gross_mm, units)}`;
  const text = looks === "running" ? ink("onInk") : ink("ink");
  const label = t("runsheet.barLabel", {
    name: bar.name,
    from: time.full(bar.starts),
    figures,
    status: WORD[looks](),
    pinned: bar.set?.pinned ? `, ${t("runsheet.pinned")}` : "",
    broken: broken ? `, ${t("runsheet.breaksARule")}` : "",
  });
  // Within the bar, or beside it where there is more room than in it.
  const within = wide - (bar.set?.pinned ? 22 : 10);
  const after = Math.min(next, scale.right) - left - wide - 10;
  const fits = within >= Math.max(bar.name.length, figures.length) * GLYPH;
  const beside = !fits && after > within;
  const room = beside ? after : within;
  const at = beside ? left + wide + 5 : left + 6;
  const stroke = broken ? "rust" : looks === "done" ? "loam" : "water";
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={label}
      aria-pressed={chosen}
      className="sheet-bar"
      data-bar={bar.key}
      style={{ cursor: free ? "grab" : "pointer", touchAction: free ? "pan-y" : undefined }}
      onClick={choose}
      onKeyDown={press}
      onPointerDown={(event) => {
        if (!free || event.button !== 0) return;
        const box = event.currentTarget.getBoundingClientRect();
        grab(event, wide > 3 * EDGE && event.clientX > box.left + wide - EDGE);
      }}
    >
      <title>{label}</title>
      <rect
        x={left}
        y={y}
        width={wide}
        height={BAR_HEIGHT}
        rx={2}
        fill={ink(FILL[looks])}
        stroke={ink(chosen ? "ink" : stroke)}
        strokeWidth={chosen ? 2.4 : broken ? 1.8 : 1}
        strokeDasharray={looks === "draft" && !chosen ? "4 2" : undefined}
      />
      {looks === "standing" && (
        <rect x={left} y={y} width={3} height={BAR_HEIGHT} fill={ink("waterDeep")} />
      )}
      {room > 3 * GLYPH && (
        <g fill={beside ? ink("ink") : text}>
          <text x={at} y={y + 15} style={{ fontSize: 12.5, fontWeight: 600 }}>
            {cut(bar.name, room / GLYPH)}
          </text>
          <text x={at} y={y + 29} style={{ fontSize: 11.5 }}>
            {cut(figures, room / GLYPH)}
          </text>
        </g>
      )}
      {bar.set?.pinned && <circle cx={left + wide - 7} cy={y + 8} r={3.4} fill={text} />}
      {broken && (
        <path
          d={`M${left + 1} ${y - 1} l5 -8 l5 8 z`}
          fill={ink("rust")}
          stroke={ink("paper")}
          strokeWidth={0.8}
        />
      )}
      {free && wide > 3 * EDGE && (
        <rect
          x={left + wide - EDGE}
          y={y}
          width={EDGE}
          height={BAR_HEIGHT}
          fill="transparent"
          style={{ cursor: "ew-resize" }}
        />
      )}
    </g>
  );
}
