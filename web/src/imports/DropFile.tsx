import { Box, Button } from "@chakra-ui/react";
import { useNavigate } from "react-router";
import { Notice } from "../app/Notice";
import { useSignedIn } from "../session/context";
import { useDiscard } from "./queries";
import { t } from "./t";

/** Lets go of a file that stored nothing. */
export function DropFile({ id }: { id: number }) {
  const { farm } = useSignedIn();
  const discard = useDiscard(farm.slug, id);
  const navigate = useNavigate();
  return (
    <Box>
      <Button
        size="sm"
        variant="outline"
        loading={discard.isPending}
        onClick={() =>
          discard.mutate(undefined, {
            onSuccess: () => void navigate(`/${farm.slug}/farm/files`),
          })
        }
      >
        {t("imports.deleteTheFile")}
      </Button>
      {discard.error && <Notice error={discard.error} />}
    </Box>
  );
}
