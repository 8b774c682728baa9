import { Box, Button, Heading, Text } from "@chakra-ui/react";
import { useMemo } from "react";
import { Loading } from "../app/Loading";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { FarmTime } from "../time/farmTime";
import { PlanFailed } from "./PlanFailed";
import { usePlanSheet, useRunSheet } from "./queries";
import { RunSheet } from "./RunSheet";
import { t } from "./t";

/** What runs when: the sheet that people go by. */
export function RunSheetPage() {
  const { farm, may } = useSignedIn();
  const found = useRunSheet(farm.slug);
  const plan = usePlanSheet(farm.slug);
  const now = found.data?.now;
  const zone = found.data?.time_zone;
  const time = useMemo(() => (now && zone ? new FarmTime(now, zone) : null), [now, zone]);
  if (found.error) return <Notice error={found.error} retry={() => void found.refetch()} />;
  if (!found.data || !time) return <Loading what={t("runsheet.loading")} />;
  const { data } = found;
  if (data.sheet) return <RunSheet data={data} sheet={data.sheet} time={time} />;
  return (
    <Box maxW="62ch">
      <Heading as="h2" size="lg">
        {data.planning ? t("runsheet.planning") : t("runsheet.noneYet")}
      </Heading>
      <Text mt="1">{t("runsheet.whatItIs")}</Text>
      {data.planning ? (
        <Loading what={t("runsheet.planningTakes")} />
      ) : (
        <>
          {may("decide") && (
            <Button mt="3" loading={plan.isPending} onClick={() => plan.mutate(undefined)}>
              {t("runsheet.planRunSheet")}
            </Button>
          )}
          {data.failed && <PlanFailed incident={data.failed} />}
        </>
      )}
      {plan.error && <Notice error={plan.error} />}
    </Box>
  );
}
