import { Text } from "@chakra-ui/react";
import { lazy, Suspense, useState } from "react";
import { LinkButton } from "../app/LinkButton";
import { useSignedIn } from "../session/context";
import { figure, measure, withUnit, type UnitSystem } from "../units/format";
import type { BoardData, StatedEt } from "./queries";

const EtDialog = lazy(() => import("./EtDialog"));

/** What rain the dates count on: what most members of the forecast bring. */
export function rainWords(ahead: BoardData["rain_ahead"], units: UnitSystem): string {
  const likely = ahead.reduce((sum, r) => sum + r.likely_mm, 0);
  if (likely > 0) return `${withUnit(likely, units, "water")} of rain counted on`;
  return ahead.length > 0 ? "no rain sure enough to count on" : "no rain counted on";
}

interface Props {
  et: StatedEt | null;
  rainAhead: BoardData["rain_ahead"];
  ratio: number | null;
}

/** The ET0 that the days ahead run on, and the way to state another. */
export function EtStatement({ et, rainAhead, ratio }: Props) {
  const { farm, units, may } = useSignedIn();
  const [open, setOpen] = useState(false);
  return (
    <Text color="inkSoft" fontSize="sm">
      {et
        ? `Grass ET ${figure(et.expected, units, "waterDay")} ${measure(units, "waterDay").label} ahead (${figure(et.low, units, "waterDay")} to ${figure(et.high, units, "waterDay")}), ${et.source}; ${rainWords(rainAhead, units)}.`
        : "No ET is known for the days ahead, so nothing can be dated."}{" "}
      {may("state_et") && <LinkButton onClick={() => setOpen(true)}>State another</LinkButton>}
      {open && (
        <Suspense fallback={null}>
          <EtDialog et={et} ratio={ratio} slug={farm.slug} close={() => setOpen(false)} />
        </Suspense>
      )}
    </Text>
  );
}
