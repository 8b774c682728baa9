import { useEffect, useState } from "react";
import { levelsOf } from "./levels";
import type { RasterData } from "./queries";

/** A raster's levels once they are opened; null before, and where there is no raster. */
export function useLevels(data: RasterData | null | undefined): Uint8Array | null {
  const [opened, setOpened] = useState<{ of: string; levels: Uint8Array } | null>(null);
  useEffect(() => {
    let current = true;
    if (data) void levelsOf(data).then((levels) => current && setOpened({ of: data.data, levels }));
    return () => {
      current = false;
    };
  }, [data]);
  return data && opened?.of === data.data ? opened.levels : null;
}
