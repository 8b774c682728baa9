import { span } from "../time/farmTime";

/** How a logger's clock stands: "right", "1 h slow". */
export function clockWord(skewSeconds: number | null): string {
  if (skewSeconds === null) return "–";
  if (Math.abs(skewSeconds) < 60) return "right";
  return `${span(Math.abs(skewSeconds) / 3600)} ${skewSeconds < 0 ? "slow" : "fast"}`;
}
