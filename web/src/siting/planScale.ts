/* A raster's plan in pixels of the screen, and back. */

import { metresOf, positionOf, type Metres } from "./levels";
import type { RasterPlace } from "./queries";

const MARGIN = 8;
const HIGHEST = 560;

export interface PlanScale {
  /** Pixels in a metre. */
  scale: number;
  margin: number;
  wide: number;
  high: number;
  height: number;
  px: (at: Metres) => Metres;
  at: (position: readonly [number, number]) => Metres;
  position: (left: number, top: number) => [number, number];
}

export function planScale(raster: RasterPlace, width: number): PlanScale {
  const inner = width - 2 * MARGIN;
  const scale = Math.min(inner / raster.cols, HIGHEST / raster.rows) / raster.cell_m;
  const px = ({ x, y }: Metres) => ({
    x: MARGIN + (x - raster.west) * scale,
    y: MARGIN + (raster.north - y) * scale,
  });
  return {
    scale,
    margin: MARGIN,
    wide: raster.cols * raster.cell_m * scale,
    high: raster.rows * raster.cell_m * scale,
    height: raster.rows * raster.cell_m * scale + 2 * MARGIN,
    px,
    at: (position) => px(metresOf(raster, position)),
    position: (left, top) =>
      positionOf(raster, {
        x: raster.west + (left - MARGIN) / scale,
        y: raster.north - (top - MARGIN) / scale,
      }),
  };
}
