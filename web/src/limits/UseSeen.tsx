import { Box, Button, Heading, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import { number } from "../units/format";
import { useAdoptUse, useRefillSeen, type UseSeenData } from "./queries";
import { t } from "./t";

const percent = (share: number) => number(share * 100, 0);

/** What the crop took of its stated use, and what that means. */
export function seenUseWords(use: UseSeenData): string {
  const seen = t("limits.useSeenWas", {
    count: use.days,
    share: percent(use.share),
    low: percent(use.low),
    high: percent(use.high),
  });
  switch (use.fit) {
    case "differs":
      return seen;
    case "fits":
      return `${seen} ${t("limits.useFits")}`;
    case "not the crop":
      return `${seen} ${t("limits.useIsNotTheCrops")}`;
  }
}

/** The use that the crop has shown in mid season, and a way to make it its Kc. */
export function UseSeen({ block, name }: { block: number; name: string }) {
  const { farm, may } = useSignedIn();
  const seen = useRefillSeen(farm.slug, block);
  const [adopting, setAdopting] = useState(false);
  // Its error stands above, beside the refill point.
  const use = seen.data?.use;
  if (!use) return null;
  return (
    <Box as="section" aria-labelledby="use-seen" mb="6">
      <Heading as="h2" id="use-seen" size="lg">
        {t("limits.useSeen")}
      </Heading>
      <Text fontSize="sm">{seenUseWords(use)}</Text>
      {may("set_up_ground") && use.fit === "differs" && (
        <Button size="sm" variant="outline" mt="2" onClick={() => setAdopting(true)}>
          {t("limits.adoptUse")}
        </Button>
      )}
      {adopting && (
        <AdoptSheet block={block} name={name} use={use} close={() => setAdopting(false)} />
      )}
    </Box>
  );
}

interface SheetProps {
  block: number;
  name: string;
  use: UseSeenData;
  /** The block that it was seen on, where that is another. */
  seenOn?: number;
  close: () => void;
}

export function AdoptSheet({ block, name, use, seenOn, close }: SheetProps) {
  const { farm } = useSignedIn();
  const adopt = useAdoptUse(farm.slug, block);
  const [reason, setReason] = useState("");
  return (
    <FormSheet
      title={t("limits.adoptUseOf", { name })}
      close={close}
      save={() => adopt.mutate({ reason, similar_block_id: seenOn ?? null }, { onSuccess: close })}
      words={t("limits.adopt")}
      pending={adopt.isPending}
    >
      <Text fontSize="sm" mb="3">
        {seenUseWords(use)} {t("limits.adoptingUseMeans", { share: percent(use.share) })}
      </Text>
      <Line
        label={t("limits.reason")}
        value={reason}
        change={setReason}
        error={problemsOf(adopt.error)["reason"]}
      />
      {adopt.error && <Notice error={adopt.error} />}
    </FormSheet>
  );
}
