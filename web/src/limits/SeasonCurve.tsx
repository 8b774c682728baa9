import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { useState } from "react";
import { LineKey } from "../draw/LineKey";
import { tickDigits } from "../draw/tickDigits";
import { ink } from "../theme/system";
import { figure, measure, number, UNKNOWN, type UnitSystem } from "../units/format";
import { addDays, daysBetween, shortDay } from "./days";
import type { BlockLimits } from "./queries";
import { REFILL_METHOD_NAMES, type RefillMethod } from "./words";
import { shownDay } from "../time/enteredDate";
import { t } from "./t";

const HEIGHT = 258;
const LEFT = 44;
const TOP = 22;
const BOTTOM = 26;

const OTHERS: {
  refill_method: RefillMethod;
  key: "crop_p_mm" | "flat_mm" | "tension_mm";
  dash: string;
}[] = [
  { refill_method: "crop_p", key: "crop_p_mm", dash: "1 3" },
  { refill_method: "flat", key: "flat_mm", dash: "7 4" },
  { refill_method: "tension", key: "tension_mm", dash: "9 3 2 3" },
];

interface Props {
  limits: BlockLimits;
  width: number;
  units: UnitSystem;
  choose: (day: string) => void;
}

/** How full, refill and wilting move through the season as roots grow; click a day to see it. */
export function SeasonCurve({ limits, width, units, choose }: Props) {
  const [at, setAt] = useState<number | null>(null);
  const curve = limits.curve;
  if (!curve) return null;
  const last = curve.full_mm.length - 1;
  const x = scaleLinear()
    .domain([0, last])
    .range([LEFT, width - 8]);
  const y = scaleLinear()
    .domain([0, Math.max(...curve.full_mm) * 1.04])
    .range([HEIGHT - BOTTOM, TOP]);
  // Round figures in the unit that is shown.
  const tickY = y.copy().domain(y.domain().map((v) => v / measure(units, "water").size));
  const ticks = tickY.ticks(4);
  const path = line<number | null>()
    .defined((v) => v !== null)
    .x((_, i) => x(i))
    .y((v) => y(v ?? 0));
  const dayOf = (i: number) => addDays(curve.first, i);
  const on = daysBetween(curve.first, limits.on);
  const today = daysBetween(curve.first, limits.today);
  const shown = at ?? on;
  const stage = curve.stage[shown];
  const band = `${path(curve.full_mm) ?? ""}L${curve.refill_mm
    .map((v, i) => `${x(i)},${y(v ?? 0)}`)
    .toReversed()
    .join("L")}Z`;
  const months = curve.full_mm
    .map((_, i) => i)
    .filter((i) => dayOf(i).endsWith("-01") && x(i) < width - 40);

  const pick = (clientX: number, box: DOMRect) =>
    Math.min(Math.max(Math.round(x.invert(clientX - box.left)), 0), last);

  return (
    <figure style={{ margin: 0 }}>
      <p style={{ fontSize: "13px", minHeight: "20px" }}>
        {shown >= 0 && shown <= last && (
          <>
            <b>{shortDay(dayOf(shown))}</b>
            {t("limits.fullRefillWiltingRootsKc", {
              full: inUnit(curve.full_mm[shown], units),
              refill: inUnit(curve.refill_mm[shown], units),
              wilting: inUnit(curve.wilt_mm[shown], units),
              label: measure(units, "water").label,
              shown: figure(curve.root_mm[shown], units, "depth"),
              label2: measure(units, "depth").label,
              shown2: number(curve.kc[shown], 2),
              shown3: stage ? t(`stage.${stage}`) : UNKNOWN,
            })}
          </>
        )}
      </p>
      <svg
        width={width}
        height={HEIGHT}
        role="slider"
        tabIndex={0}
        aria-label={t("limits.fullRefillAndWiltingThroughTheSeason")}
        aria-valuemin={0}
        aria-valuemax={last}
        aria-valuenow={on}
        aria-valuetext={shownDay(limits.on)}
        onKeyDown={(e) => {
          const step = { ArrowLeft: -1, ArrowRight: 1, PageUp: 7, PageDown: -7 }[e.key];
          if (!step) return;
          e.preventDefault();
          choose(dayOf(Math.min(Math.max(on + step, 0), last)));
        }}
        style={{ display: "block", cursor: "pointer" }}
        onPointerMove={(e) => setAt(pick(e.clientX, e.currentTarget.getBoundingClientRect()))}
        onPointerLeave={() => setAt(null)}
        onClick={(e) => choose(dayOf(pick(e.clientX, e.currentTarget.getBoundingClientRect())))}
      >
        {limits.windows
          .filter((w) => w.ky >= 0.8)
          .map((w) => {
            const from = x(daysBetween(curve.first, w.first));
            return (
              <g key={w.name}>
                <rect
                  x={from}
                  y={TOP - 16}
                  width={Math.max(x(daysBetween(curve.first, w.last)) - from, 2)}
                  height={HEIGHT - BOTTOM - TOP + 16}
                  fill={ink("bedAhead")}
                />
                <text x={from + 4} y={TOP - 5} fill={ink("strawInk")} style={{ fontSize: 11 }}>
                  {t("limits.ky", { name: w.name, ky: number(w.ky, 2) })}
                </text>
              </g>
            );
          })}
        {ticks.map((v) => (
          <g key={v}>
            <line x1={LEFT} x2={width - 8} y1={tickY(v)} y2={tickY(v)} stroke={ink("rule")} />
            <text
              x={LEFT - 6}
              y={tickY(v) + 4}
              textAnchor="end"
              fill={ink("inkSoft")}
              style={{ fontSize: 11 }}
            >
              {number(v, tickDigits(ticks))}
            </text>
          </g>
        ))}
        {months.map((i) => (
          <text key={i} x={x(i)} y={HEIGHT - 8} fill={ink("inkSoft")} style={{ fontSize: 11 }}>
            {shortDay(dayOf(i))}
          </text>
        ))}
        <path d={band} fill={ink("waterRim")} opacity={0.75} />
        <path d={path(curve.full_mm) ?? ""} fill="none" stroke={ink("ink")} strokeWidth={1.4} />
        <path
          d={path(curve.wilt_mm) ?? ""}
          fill="none"
          stroke={ink("strawInk")}
          strokeDasharray="3 2"
        />
        {OTHERS.map((o) => (
          <path
            key={o.refill_method}
            d={path(curve[o.key]) ?? ""}
            fill="none"
            stroke={ink("inkSoft")}
            strokeDasharray={o.dash}
          />
        ))}
        <path d={path(curve.refill_mm) ?? ""} fill="none" stroke={ink("water")} strokeWidth={2.6} />
        {today >= 0 && today <= last && (
          <line x1={x(today)} x2={x(today)} y1={TOP} y2={HEIGHT - BOTTOM} stroke={ink("ink")} />
        )}
        {shown >= 0 && shown <= last && (
          <>
            <line
              x1={x(shown)}
              x2={x(shown)}
              y1={TOP}
              y2={HEIGHT - BOTTOM}
              stroke={ink("water")}
              strokeDasharray="2 2"
            />
            <circle
              cx={x(shown)}
              cy={y(curve.refill_mm[shown] ?? 0)}
              r={4.5}
              fill={ink("water")}
              stroke={ink("paper")}
            />
          </>
        )}
      </svg>
      <figcaption style={{ fontSize: "12px" }}>
        <LineKey colour="ink" text={t("limits.full")} />
        <LineKey colour="water" strong text={t("limits.refillInForce")} />
        {OTHERS.map((o) => (
          <LineKey
            key={o.refill_method}
            dash={o.dash}
            colour="inkSoft"
            text={t("limits.refillBy2", { method: REFILL_METHOD_NAMES[o.refill_method] })}
          />
        ))}
        <LineKey dash="3 2" colour="strawInk" text={t("limits.wilting")} />
      </figcaption>
    </figure>
  );
}

const inUnit = (mm: number | null | undefined, units: UnitSystem) => figure(mm, units, "water");
