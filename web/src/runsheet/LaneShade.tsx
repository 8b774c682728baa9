import { ink } from "../theme/system";
import { cheapAndDear, stretches } from "./lanes";
import type { PlotScale } from "./plotScale";
import type { SheetData } from "./queries";

interface Props {
  source: SheetData["sources"][number];
  /** Slots in which a block of the lane waits for less wind. */
  windy: number[];
  scale: PlotScale;
  y: number;
  height: number;
}

/** Patterns that the shading of lanes is filled with. */
export function ShadePatterns() {
  return (
    <defs>
      <pattern id="dear" width="7" height="7" patternUnits="userSpaceOnUse">
        <path d="M0 7 L7 0" stroke={ink("straw")} strokeWidth="0.9" />
      </pattern>
      <pattern id="closed" width="6" height="6" patternUnits="userSpaceOnUse">
        <rect width="6" height="6" fill={ink("bed")} />
        <circle cx="3" cy="3" r="0.8" fill={ink("loam")} />
      </pattern>
      <pattern id="windy" width="12" height="8" patternUnits="userSpaceOnUse">
        <path d="M0 5 q3 -4 6 0 t6 0" fill="none" stroke={ink("waterMid")} strokeWidth="0.8" />
      </pattern>
      <pattern id="dry" width="5" height="5" patternUnits="userSpaceOnUse">
        <path d="M0 0 L5 5" stroke={ink("rust")} strokeWidth="1" />
      </pattern>
    </defs>
  );
}

/** When power is cheap or dear behind a lane, when it is too windy, and when its source does not
    run. */
export function LaneShade({ source, windy, scale, y, height }: Props) {
  const { cheap, dear } = cheapAndDear(source.price_kwh);
  const part = (slots: number[], fill: string, kind: string) =>
    stretches(slots.filter((s) => s >= scale.from && s < scale.to)).map(([from, to]) => (
      <rect
        key={`${kind}${from}`}
        x={scale.slotX(from)}
        width={(to - from) * scale.slotWidth}
        y={y}
        height={height}
        fill={fill}
      />
    ));
  return (
    <g aria-hidden>
      {part(cheap, ink("bedAhead"), "cheap")}
      {part(dear, "url(#dear)", "dear")}
      {part(windy, "url(#windy)", "windy")}
      {part(source.closed, "url(#closed)", "closed")}
    </g>
  );
}
