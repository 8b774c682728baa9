import { Text } from "@chakra-ui/react";
import { lazy, Suspense, useState } from "react";
import { LinkButton } from "../app/LinkButton";
import { useSignedIn } from "../session/context";
import { figure, measure } from "../units/format";
import type { StatedEt } from "./queries";

const EtDialog = lazy(() => import("./EtDialog"));

/** The ET0 that the days ahead run on, and the way to state another. */
export function EtStatement({ et, ratio }: { et: StatedEt | null; ratio: number | null }) {
  const { farm, units, may } = useSignedIn();
  const [open, setOpen] = useState(false);
  return (
    <Text color="inkSoft" fontSize="sm">
      {et
        ? `Grass ET ${figure(et.expected, units, "waterDay")} ${measure(units, "waterDay").label} ahead (${figure(et.low, units, "waterDay")} to ${figure(et.high, units, "waterDay")}), ${et.source}; no rain counted on.`
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
