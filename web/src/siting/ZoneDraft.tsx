import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Choice } from "../form/Labelled";
import type { Ring } from "./AreaDraft";
import type { Siting, SitingSettings } from "./queries";
import { t } from "./t";
import { zoneName } from "./words";

const MOST_ZONES = 6;

interface Props {
  siting: Siting;
  ring: Ring;
  setRing: (ring: Ring | null) => void;
  change: (settings: SitingSettings) => void;
  pending: boolean;
  error: Error | null;
}

/** An area drawn on the plan, given to one of the zones or made one of its own. */
export function ZoneDraft({ siting, ring, setRing, change, pending, error }: Props) {
  const free = Array.from({ length: MOST_ZONES }, (_, n) => n).find(
    (n) => !siting.zones.some((z) => z.zone === n),
  );
  const [zone, setZone] = useState(String(siting.zones[0]?.zone ?? 0));
  const edits = siting.settings.zone_edits ?? [];
  return (
    <Box mt="2" borderTopWidth="1px" pt="2">
      <Text fontSize="sm" mb="2">
        {t("siting.drawZoneHint")}
      </Text>
      <Flex gap="3" align="end" wrap="wrap">
        <Box w="220px">
          <Choice label={t("siting.areaBelongsTo")} value={zone} change={setZone}>
            {siting.zones.map((z) => (
              <option key={z.zone} value={z.zone}>
                {zoneName(z)}
              </option>
            ))}
            {free !== undefined && <option value={free}>{t("siting.aNewZone")}</option>}
          </Choice>
        </Box>
        <Button
          size="sm"
          disabled={ring.length < 3}
          loading={pending}
          onClick={() =>
            change({
              ...siting.settings,
              zone_edits: [...edits, { zone: Number(zone), ring }],
            })
          }
        >
          {t("siting.changeZone")}
        </Button>
        <Button
          size="sm"
          variant="outline"
          disabled={ring.length === 0}
          onClick={() => setRing(ring.slice(0, -1))}
        >
          {t("siting.removeCorner")}
        </Button>
        <Button size="sm" variant="ghost" onClick={() => setRing(null)}>
          {t("siting.cancel")}
        </Button>
      </Flex>
      {error && <Notice error={error} />}
    </Box>
  );
}
