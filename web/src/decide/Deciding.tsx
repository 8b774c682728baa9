import { Button, Flex, Text } from "@chakra-ui/react";
import { lazy, Suspense, useState } from "react";
import type { Answer } from "../answer/types";
import { LinkButton } from "../app/LinkButton";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import type { Change } from "./DecideSheet";
import { useDecide, useTakeBack, type Decision } from "./queries";
import { decisionWords } from "./words";
import { t } from "./t";

const DecideSheet = lazy(() =>
  import("./DecideSheet").then((found) => ({ default: found.DecideSheet })),
);

interface Props {
  block: { id: number; name: string; answer: Answer; decision: Decision | null };
  time: FarmTime;
}

/** What to do with an advice, where a block stands alone; or what was done, and the way back. */
export function Deciding({ block, time }: Props) {
  const { farm, may } = useSignedIn();
  const decide = useDecide(farm.slug);
  const back = useTakeBack(farm.slug);
  const [changing, setChanging] = useState<Change | null>(null);
  const { decision, answer } = block;
  const advised = answer.start_at !== null && answer.amount !== null;
  if (!may("decide") && !decision) return null;
  const error = decide.error ?? back.error;
  return (
    <>
      <Flex gap="2" mt="3" align="center" wrap="wrap">
        {decision ? (
          <Text fontSize="sm">
            {decisionWords(decision)}.{" "}
            {may("decide") && (
              <LinkButton loading={back.isPending} onClick={() => back.mutate(decision.id)}>
                {t("decide.undo")}
              </LinkButton>
            )}
          </Text>
        ) : (
          <>
            {advised && (
              <Button
                size="sm"
                loading={decide.isPending}
                onClick={() =>
                  decide.mutate({ block: block.id, body: { kind: "accepted", reason: "" } })
                }
              >
                {t("decide.schedule")}
              </Button>
            )}
            <Button size="sm" variant="outline" onClick={() => setChanging("changed")}>
              {t("decide.adjust")}
            </Button>
            {advised && (
              <Button size="sm" variant="outline" onClick={() => setChanging("declined")}>
                {t("decide.skip2")}
              </Button>
            )}
          </>
        )}
      </Flex>
      {error && <Notice error={error} />}
      {changing && (
        <Suspense fallback={null}>
          <DecideSheet block={block} time={time} start={changing} close={() => setChanging(null)} />
        </Suspense>
      )}
    </>
  );
}
