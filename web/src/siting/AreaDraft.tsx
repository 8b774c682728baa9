import { ink } from "../theme/system";
import type { PlanScale } from "./planScale";

export type Ring = [number, number][];

/** The corners of an area as it is drawn. */
export function AreaDraft({ ring, plan }: { ring: Ring; plan: PlanScale }) {
  const corners = ring.map(plan.at);
  if (corners.length === 0) return null;
  return (
    <g pointerEvents="none">
      <path
        d={`M${corners.map((c) => `${c.x},${c.y}`).join("L")}${corners.length > 2 ? "Z" : ""}`}
        fill={ink("rust")}
        fillOpacity={0.18}
        stroke={ink("rust")}
        strokeWidth={2}
        strokeDasharray="5 3"
      />
      {corners.map((c, i) => (
        <circle
          // oxlint-disable-next-line react/no-array-index-key
          key={i}
          cx={c.x}
          cy={c.y}
          r={4}
          fill={ink("sheet")}
          stroke={ink("rust")}
          strokeWidth={1.5}
        />
      ))}
    </g>
  );
}
