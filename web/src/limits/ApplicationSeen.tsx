import { Box, Button, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Choice } from "../form/Labelled";
import { useSignedIn } from "../session/context";
import { number, withUnit, type UnitSystem } from "../units/format";
import { useAdoptApplication, useApplicationSeen, type ApplicationSeenData } from "./queries";
import { t } from "./t";

const percent = (share: number) => number(share * 100, 0);

/** What was found of the water applied, and what that means. */
export function applicationWords(seen: ApplicationSeenData): string {
  const found = t("limits.applicationSeenWas", {
    count: seen.irrigations,
    share: percent(seen.share),
    low: percent(seen.low),
    high: percent(seen.high),
  });
  switch (seen.fit) {
    case "differs":
      return found;
    case "fits":
      return `${found} ${t("limits.applicationFits")}`;
    case "other cause":
      return `${found} ${t("limits.applicationOtherCause", { cause: seen.cause ?? "" })}`;
  }
}

/** What may be adopted, in use and as seen; the rate first, since it can be measured. */
export function figuresToAdopt(seen: ApplicationSeenData, units: UnitSystem) {
  const from = (inUse: number, asSeen: number, unit: "rate" | "flow") =>
    t("limits.applicationRateFrom", {
      inUse: withUnit(inUse, units, unit),
      asSeen: withUnit(asSeen, units, unit),
    });
  const figures: { value: "rate" | "efficiency"; words: string }[] = [];
  if (seen.rate_mm_h !== null && seen.rate_mm_h_seen !== null)
    figures.push({ value: "rate", words: from(seen.rate_mm_h, seen.rate_mm_h_seen, "rate") });
  if (seen.flow_m3_h !== null && seen.flow_m3_h_seen !== null)
    figures.push({ value: "rate", words: from(seen.flow_m3_h, seen.flow_m3_h_seen, "flow") });
  if (seen.efficiency_seen !== null)
    figures.push({
      value: "efficiency",
      words: t("limits.efficiencyFrom", {
        inUse: percent(seen.efficiency),
        asSeen: percent(seen.efficiency_seen),
      }),
    });
  return figures;
}

/** How much of the water applied the sensors found, and a way to make it rate or efficiency. */
export function ApplicationSeen({ block, name }: { block: number; name: string }) {
  const { farm, may, units } = useSignedIn();
  const found = useApplicationSeen(farm.slug, block);
  const [adopting, setAdopting] = useState(false);
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  const seen = found.data;
  if (!seen) return null;
  const differs = seen.fit === "differs";
  const figures = figuresToAdopt(seen, units);
  return (
    <Box as="section" aria-labelledby="application-seen" mb="6">
      <Heading as="h2" id="application-seen" size="lg">
        {t("limits.applicationSeen")}
      </Heading>
      <Text fontSize="sm">{applicationWords(seen)}</Text>
      {differs && <Text fontSize="sm">{t("limits.applicationCheckFirst")}</Text>}
      {differs && figures.length === 0 && (
        <Text fontSize="sm">{t("limits.applicationByDesign")}</Text>
      )}
      {may("set_up_ground") && differs && figures.length > 0 && (
        <Button size="sm" variant="outline" mt="2" onClick={() => setAdopting(true)}>
          {t("limits.adoptApplication")}
        </Button>
      )}
      {adopting && (
        <AdoptSheet block={block} name={name} seen={seen} close={() => setAdopting(false)} />
      )}
    </Box>
  );
}

interface SheetProps {
  block: number;
  name: string;
  seen: ApplicationSeenData;
  close: () => void;
}

function AdoptSheet({ block, name, seen, close }: SheetProps) {
  const { farm, units } = useSignedIn();
  const adopt = useAdoptApplication(farm.slug, block);
  const figures = figuresToAdopt(seen, units);
  const [figure, setFigure] = useState(figures[0]?.value ?? "rate");
  return (
    <FormSheet
      title={t("limits.adoptApplicationOf", { name })}
      close={close}
      save={() => adopt.mutate({ figure }, { onSuccess: close })}
      words={t("limits.adopt")}
      pending={adopt.isPending}
    >
      <Text fontSize="sm" mb="3">
        {applicationWords(seen)}
      </Text>
      <Choice
        label={t("limits.adoptApplicationAs")}
        value={figure}
        change={(v) => setFigure(v === "efficiency" ? "efficiency" : "rate")}
      >
        {figures.map((f) => (
          <option key={f.value} value={f.value}>
            {f.words}
          </option>
        ))}
      </Choice>
      <Text fontSize="sm" mt="3">
        {figure === "rate" ? t("limits.adoptingRateMeans") : t("limits.adoptingEfficiencyMeans")}
      </Text>
      {adopt.error && <Notice error={adopt.error} />}
    </FormSheet>
  );
}
