import { Box, Button, Text } from "@chakra-ui/react";
import { useState } from "react";
import { useSignedIn } from "../session/context";
import { usePaddy } from "./queries";
import { RiceSheet } from "./RiceSheet";
import { t } from "./t";

/** A paddy whose bunds nobody has described yet. */
export function NotDescribed({ block }: { block: { id: number; name: string } }) {
  const { farm, may } = useSignedIn();
  const [open, setOpen] = useState(false);
  const paddy = usePaddy(farm.slug, block.id);
  if (!may("set_up_ground") || !paddy.data || paddy.data.paddy) return null;
  return (
    <Box mt="6">
      <Text>{t("rice.notDescribed")}</Text>
      <Button size="sm" mt="1" onClick={() => setOpen(true)}>
        {t("rice.describe", { name: block.name })}
      </Button>
      {open && <RiceSheet block={block} paddy={null} close={() => setOpen(false)} />}
    </Box>
  );
}
