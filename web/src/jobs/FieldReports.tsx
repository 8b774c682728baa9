import { Flex, Link, Text } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { number, withUnit } from "../units/format";
import type { FieldReport } from "./queries";
import { WHY_STOPPED } from "./why";
import { t } from "./t";

const KPA_PER_BAR = 100;

/** What was reported from the field of one irrigation: who, when, what he read there. */
export function FieldReports({ reports, time }: { reports: FieldReport[]; time: FarmTime }) {
  const { farm, units } = useSignedIn();
  return reports.map((r) => (
    <Flex key={`${r.kind}${r.at}`} fontSize="sm" color="inkSoft" columnGap="2" wrap="wrap">
      <Text>
        {[
          r.kind === "start"
            ? t("jobs.startedInField", { when: time.full(new Date(r.at)), by: r.made_by ?? "" })
            : t("jobs.stoppedInField", { when: time.full(new Date(r.at)), by: r.made_by ?? "" }),
          r.why && r.why !== "finished" && WHY_STOPPED[r.why](),
          r.meter_m3 !== null &&
            t("jobs.meterRead", { meter: withUnit(r.meter_m3, units, "volume") }),
          r.pressure_kpa !== null && `${number(r.pressure_kpa / KPA_PER_BAR, 1)} bar`,
        ]
          .filter(Boolean)
          .join(" · ")}
      </Text>
      {r.photo_id !== null && (
        <Link
          href={`/api/farms/${farm.slug}/jobs/photos/${r.photo_id}`}
          target="_blank"
          rel="noopener"
          textDecoration="underline"
        >
          {t("jobs.picture")}
        </Link>
      )}
    </Flex>
  ));
}
