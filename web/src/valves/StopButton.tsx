import { Button } from "@chakra-ui/react";
import { useSignedIn } from "../session/context";
import { useStop, useValveWatch } from "./queries";
import { t } from "./t";

/** Closes every valve at one press; nobody is asked whether he means it. */
export function StopButton() {
  const { farm } = useSignedIn();
  const watch = useValveWatch(farm.slug);
  const stop = useStop(farm.slug);
  if (watch.data?.stop) return null;
  const open = (watch.data?.open ?? 0) > 0;
  return (
    <Button
      size="sm"
      flexShrink={0}
      borderWidth="2px"
      borderColor="rust"
      bg={open ? "rust" : "transparent"}
      color={open ? "paper" : "rust"}
      loading={stop.isPending}
      onClick={() => stop.mutate(undefined)}
    >
      {t("valves.emergencyStop")}
    </Button>
  );
}
