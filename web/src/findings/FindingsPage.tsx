import { Box, SegmentGroup, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Link } from "react-router";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { useFarmTime } from "../time/useFarmTime";
import { FindingCard } from "./FindingCard";
import { useFindings, type Finding } from "./queries";
import { t } from "./t";

/** All that is wrong on the farm, and what was decided about it. */
export function FindingsPage() {
  const { farm } = useSignedIn();
  const [past, setPast] = useState(false);
  const findings = useFindings(farm.slug, null, past);
  const time = useFarmTime();
  if (findings.error)
    return <Notice error={findings.error} retry={() => void findings.refetch()} />;
  const shown = (findings.data ?? []).filter((f) => !past || isPast(f));
  return (
    <Box maxW="960px">
      <Text color="inkSoft" fontSize="sm" mb="3" maxW="70ch">
        {t("findings.intro")}
      </Text>
      <SegmentGroup.Root
        size="sm"
        value={past ? "past" : "now"}
        onValueChange={(e) => setPast(e.value === "past")}
        mb="3"
      >
        <SegmentGroup.Indicator />
        <SegmentGroup.Items
          items={[
            { value: "now", label: t("findings.now") },
            { value: "past", label: t("findings.past") },
          ]}
        />
      </SegmentGroup.Root>
      {findings.isPending || !time ? (
        <Loading what={t("findings.loading")} />
      ) : (
        <>
          {shown.length === 0 && <Text>{past ? t("findings.nonePast") : t("findings.none")}</Text>}
          <Box as="ul" p="0" m="0">
            {shown.map((f) => (
              <FindingCard
                key={f.id}
                finding={f}
                time={time}
                block={<Link to={`/${farm.slug}/blocks/${f.block_id}`}>{f.block}</Link>}
                show={
                  <Link
                    style={{ textDecoration: "underline", fontSize: "14px" }}
                    to={`/${farm.slug}/blocks/${f.block_id}?finding=${f.id}`}
                  >
                    {t("findings.openBlock")}
                  </Link>
                }
              />
            ))}
          </Box>
        </>
      )}
    </Box>
  );
}

/** Decided so that it is off the list of open ones, or no longer seen. */
function isPast(finding: Finding): boolean {
  return finding.lapsed_at !== null || ["dismissed", "done"].includes(finding.status);
}
