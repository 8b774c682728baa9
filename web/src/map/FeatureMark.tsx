import type { KeyboardEvent } from "react";
import { ink } from "../theme/system";
import { linesOf, type Geometry, type LonLat } from "./planScale";
import type { Feature } from "./queries";
import { t } from "./t";

interface Props {
  feature: Omit<Feature, "id">;
  path: (geometry: Geometry) => string;
  px: (at: LonLat) => { x: number; y: number };
  /** Makes a pump a button. */
  open?: (() => void) | undefined;
}

/** A thing on the plan, told by its shape: pipe, pump, instrument, tree line, soil zone. */
export function FeatureMark({ feature, path, px, open }: Props) {
  const geometry = feature.geometry as unknown as Geometry;
  const first = linesOf(geometry)[0]?.[0];
  if (!first) return null;
  const at = px(first);
  const seen = feature.surveyed ? `, ${t("map.surveyedNotSeen")}` : "";
  const name = <title>{`${t(`map.${feature.kind}`)}: ${feature.name}${seen}`}</title>;
  switch (feature.kind) {
    case "pipe":
      return (
        <g>
          {name}
          <path d={path(geometry)} fill="none" stroke={ink("paper")} strokeWidth={5} />
          <path d={path(geometry)} fill="none" stroke={ink("waterDeep")} strokeWidth={2} />
        </g>
      );
    case "tree line":
      return (
        <g>
          {name}
          <path
            d={path(geometry)}
            fill="none"
            stroke={ink("loam")}
            strokeWidth={7}
            strokeLinecap="round"
            strokeDasharray="0.1 10"
          />
        </g>
      );
    case "soil zone":
      return (
        <g>
          {name}
          <path
            d={`${path(geometry)}Z`}
            fill={ink("straw")}
            fillOpacity={0.22}
            pointerEvents="none"
            stroke={ink("straw")}
            strokeDasharray="4 3"
          />
        </g>
      );
    case "pump":
      return (
        <g
          {...(open && {
            role: "button",
            tabIndex: 0,
            "aria-label": feature.name,
            className: "plan-block",
            style: { cursor: "pointer", outline: "none" },
            onClick: open,
            onKeyDown: (e: KeyboardEvent) => e.key === "Enter" && open(),
          })}
        >
          {name}
          <path
            d={`M${at.x},${at.y - 8} l8,8 l-8,8 l-8,-8 Z`}
            fill={ink("waterDeep")}
            stroke={ink("paper")}
          />
          <text x={at.x + 9} y={at.y - 7} fill={ink("ink")} style={{ fontSize: 11 }}>
            {feature.name}
          </text>
        </g>
      );
    case "instrument":
      return (
        <g>
          {name}
          <rect
            x={at.x - 3}
            y={at.y - 7}
            width={6}
            height={14}
            fill={ink("paper")}
            stroke={ink("ink")}
            strokeWidth={1.4}
          />
          <line x1={at.x - 3} x2={at.x + 3} y1={at.y} y2={at.y} stroke={ink("ink")} />
        </g>
      );
    case "fence":
    case "track":
      return (
        <g>
          {name}
          <path
            d={path(geometry)}
            fill="none"
            stroke={ink("inkSoft")}
            strokeWidth={feature.kind === "track" ? 3 : 1.4}
            strokeDasharray={feature.kind === "track" ? "7 4" : "1.5 4"}
          />
        </g>
      );
    case "building":
    case "wet spot":
    case "no probe":
      return (
        <g>
          {name}
          <path
            d={`${path(geometry)}Z`}
            fill={ink(feature.kind === "wet spot" ? "water" : "ink")}
            fillOpacity={feature.kind === "building" ? 0.7 : 0.15}
            pointerEvents="none"
            stroke={ink("ink")}
            strokeDasharray={feature.kind === "building" ? "none" : "3 3"}
          />
        </g>
      );
    case "spring":
    case "pivot":
    case "gate":
    case "base station":
      return (
        <g>
          {name}
          <PointSign kind={feature.kind} x={at.x} y={at.y} />
        </g>
      );
    default:
      return null;
  }
}

interface SignProps {
  kind: "spring" | "pivot" | "gate" | "base station";
  x: number;
  y: number;
}

/** Small things, each with a shape of its own. */
function PointSign({ kind, x, y }: SignProps) {
  const drawn = { fill: "none", stroke: ink("ink"), strokeWidth: 1.6 };
  switch (kind) {
    case "spring":
      return <circle cx={x} cy={y} r={4} fill={ink("water")} stroke={ink("paper")} />;
    case "pivot":
      return (
        <g {...drawn}>
          <circle cx={x} cy={y} r={5} fill={ink("paper")} />
          <circle cx={x} cy={y} r={1} />
        </g>
      );
    case "gate":
      return (
        <path d={`M${x - 6},${y - 4} v8 M${x + 6},${y - 4} v8 M${x - 6},${y} h12`} {...drawn} />
      );
    case "base station":
      return (
        <path
          d={`M${x - 4},${y + 7} L${x},${y - 7} L${x + 4},${y + 7} M${x - 2},${y} h4`}
          {...drawn}
        />
      );
  }
}
