import { Box, Flex, Heading, Image, Text } from "@chakra-ui/react";
import { LinkButton } from "../app/LinkButton";
import { Notice } from "../app/Notice";
import { FileButton } from "../form/FileButton";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { useAddPhoto, useRemovePhoto, type Detail } from "./queries";
import { t } from "./t";

/** Pictures of the instrument and its site. */
export function PhotoPanel({ detail, time }: { detail: Detail; time: FarmTime }) {
  const { farm, may } = useSignedIn();
  const add = useAddPhoto(farm.slug, detail.health.id);
  const remove = useRemovePhoto(farm.slug);
  if (detail.photos.length === 0 && !may("record_readings")) return null;
  return (
    <Box as="section" aria-label={t("instruments.pictures")} mb="6" fontSize="sm">
      <Heading as="h2" size="md" mb="2">
        {t("instruments.pictures")}
      </Heading>
      <Flex gap="3" wrap="wrap" mb="2">
        {detail.photos.map((p) => (
          <Box key={p.id} w="160px">
            <Image
              src={`/api/farms/${farm.slug}/photos/${p.id}`}
              alt={p.note || `${detail.health.label}, ${time.date(new Date(p.taken_at))}`}
              borderRadius="3px"
            />
            <Text fontSize="xs" color="inkSoft">
              {time.date(new Date(p.taken_at))} {p.made_by}
            </Text>
            {may("set_up_ground") && (
              <LinkButton fontSize="xs" onClick={() => remove.mutate(p.id)}>
                {t("instruments.remove")}
              </LinkButton>
            )}
          </Box>
        ))}
      </Flex>
      {may("record_readings") && (
        <FileButton
          accept="image/jpeg,image/png,image/webp"
          file={null}
          choose={(f) => add.mutate(f)}
        />
      )}
      {add.isPending && <Text color="inkSoft">{t("instruments.sendingThePicture")}</Text>}
      {(add.error ?? remove.error) && <Notice error={add.error ?? remove.error} />}
    </Box>
  );
}
