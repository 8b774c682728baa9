import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { useWidth } from "../draw/useWidth";
import { PlanView } from "../map/PlanView";
import { linesOf, middleOf, type Geometry, type LonLat } from "../map/planScale";
import { useAddFeature, useFarmMap } from "../map/queries";
import { useSignedIn } from "../session/context";
import type { SuppliedBlock, Supply } from "./queries";
import { same } from "./sameName";
import { t } from "./t";

interface Props {
  supply: Supply;
  openBlock: ((block: SuppliedBlock) => void) | undefined;
  /** Opens a source by its place in the description; with a name alone it is a new one. */
  openSource: ((at: number | null, name: string) => void) | undefined;
}

const NO_STATES = new Map();

/** Sources and blocks on the farm's plan: what feeds what, each to be opened there. */
export function SupplyPlan({ supply, openBlock, openSource }: Props) {
  const { farm, units } = useSignedIn();
  const found = useFarmMap(farm.slug);
  const add = useAddFeature(farm.slug);
  const [ref, width] = useWidth();
  const [placing, setPlacing] = useState<string | null>(null);
  const map = found.data;
  if (!map || !map.blocks.some((b) => b.geometry)) return null;
  const sources = supply.network.sources ?? [];
  const pumps = map.features.filter((f) => f.kind === "pump");
  const pumpOf = (name: string) => pumps.find((f) => same(f.name, name));
  const supplied = new Map(supply.blocks.map((b) => [b.id, b]));
  const links = map.blocks.flatMap((b): [LonLat, LonLat][] => {
    const pump = pumpOf(supplied.get(b.id)?.supply ?? "");
    const ring = b.geometry && linesOf(b.geometry as unknown as Geometry)[0];
    const at = pump && linesOf(pump.geometry as unknown as Geometry)[0]?.[0];
    return ring && at ? [[at, middleOf(ring)]] : [];
  });
  // Beside its name each block tells what feeds it instead of its crop.
  const labelled = map.blocks.map((b) => ({ ...b, crop: supplied.get(b.id)?.supply || null }));
  const missing = sources.filter((s) => !pumpOf(s.name));
  const open = (name: string) => {
    const at = sources.findIndex((s) => same(s.name, name));
    openSource?.(at < 0 ? null : at, name);
  };
  const put = (at: LonLat | undefined) => {
    if (!at || placing === null) return;
    add.mutate({
      kind: "pump",
      name: placing,
      geometry: { type: "Point", coordinates: at },
    });
    setPlacing(null);
  };
  return (
    <Box as="section" mt="6" aria-labelledby="supply-plan">
      <Heading as="h2" id="supply-plan" size="lg">
        {t("supply.onThePlan")}
      </Heading>
      <Text fontSize="sm" color="inkSoft" mb="2" aria-live="polite">
        {placing === null
          ? openBlock
            ? t("supply.planHelp")
            : t("supply.planWords")
          : t("supply.clickWhere", { name: placing })}
      </Text>
      <Box ref={ref}>
        {width > 0 && (
          <PlanView
            map={{ ...map, blocks: labelled }}
            states={NO_STATES}
            extra={[]}
            links={links}
            width={width}
            height={Math.min(Math.max(width * 0.5, 300), 460)}
            units={units}
            chosen={null}
            choose={(id) => {
              const block = id === null ? undefined : supplied.get(id);
              if (block) openBlock?.(block);
            }}
            choosePump={openSource && open}
            draft={placing === null ? null : []}
            closed={false}
            editing={false}
            setDraft={(corners) => put(corners.at(-1))}
          />
        )}
      </Box>
      {openSource && (missing.length > 0 || placing !== null) && (
        <Flex gap="2" mt="2" wrap="wrap" align="center">
          {placing === null ? (
            <>
              <Text fontSize="sm">{t("supply.notOnThePlan")}</Text>
              {missing.map((s) => (
                <Button
                  key={s.id}
                  size="xs"
                  variant="outline"
                  loading={add.isPending}
                  onClick={() => setPlacing(s.name)}
                >
                  {t("supply.placeOnPlan", { name: s.name })}
                </Button>
              ))}
            </>
          ) : (
            <Button size="xs" variant="ghost" onClick={() => setPlacing(null)}>
              {t("supply.cancel")}
            </Button>
          )}
        </Flex>
      )}
      {add.error && <Notice error={add.error} />}
    </Box>
  );
}
