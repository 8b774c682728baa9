import { Box, Image, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import type { Finding } from "./queries";
import { t } from "./t";

/** What people found and decided about a finding, and about others of its kind before. */
export function Decided({ finding, time }: { finding: Finding; time: FarmTime }) {
  const { farm } = useSignedIn();
  return (
    <Box fontSize="sm">
      {finding.decisions.map((d) => (
        <Box key={d.id} mt="1">
          <Text as="span" fontWeight="700">
            {t(`findings.status${d.status}`)}
            {d.until && ` ${t("findings.untilDay", { date: d.until })}`}
          </Text>
          {d.note && `: ${d.note}`}
          <Text as="span" color="inkSoft">
            {" "}
            {by(d.made_by, d.made_at, time)}
          </Text>
          {d.has_photo && (
            <Image
              src={`/api/farms/${farm.slug}/finding-decisions/${d.id}/photo`}
              alt={t("findings.picture")}
              maxW="160px"
              borderRadius="3px"
              mt="1"
            />
          )}
        </Box>
      ))}
      {finding.earlier.length > 0 && (
        <Box mt="1" color="inkSoft">
          <Text>{t("findings.earlier")}:</Text>
          {finding.earlier.map((d) => (
            <Text key={`${d.made_at}${d.block}`}>
              {[d.block, d.instrument].filter(Boolean).join(", ")}:{" "}
              {t(`findings.status${d.status}`)}
              {d.note && `, ${d.note}`} ({by(d.made_by, d.made_at, time)})
            </Text>
          ))}
        </Box>
      )}
    </Box>
  );
}

function by(who: string, at: string, time: FarmTime): string {
  return t("findings.by", { who, date: time.date(new Date(at)) });
}
