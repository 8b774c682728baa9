import { Box, Flex, Heading, Text } from "@chakra-ui/react";
import { Link } from "react-router";
import { LinkButton } from "../app/LinkButton";
import { Notice } from "../app/Notice";
import { RemoveButton } from "../form/RemoveButton";
import { useSignedIn } from "../session/context";
import { shownDay } from "../time/enteredDate";
import { useRemoveSpot, type ChosenSpot } from "./queries";
import { t } from "./t";

interface Props {
  spots: ChosenSpot[];
  choose: (at: [number, number]) => void;
}

/** Spots that were decided for, with why; taken along as files. */
export function ChosenSpots({ spots, choose }: Props) {
  const { farm, may } = useSignedIn();
  const remove = useRemoveSpot(farm.slug);
  if (spots.length === 0) return null;
  return (
    <Box mt="6">
      <Heading as="h2" size="md">
        {t("siting.chosenSpots")}
      </Heading>
      {spots.map((spot) => (
        <Box key={spot.id} py="2" borderTopWidth="1px" borderColor="line">
          <Flex align="baseline" gap="3" wrap="wrap">
            <LinkButton fontWeight="600" onClick={() => choose(spot.position)}>
              {spot.name}
            </LinkButton>
            <Text fontSize="sm" color="inkSoft">
              {spot.made_by}, {shownDay(spot.made_at.slice(0, 10))}
            </Text>
            <Link
              to={`/${farm.slug}/spots/${spot.id}`}
              aria-label={t("siting.openSpot", { spot: spot.name })}
            >
              {t("siting.open")}
            </Link>
            {may("set_up_ground") && (
              <RemoveButton
                words={t("siting.removeSpot")}
                pending={remove.isPending && remove.variables === spot.id}
                press={() => remove.mutate(spot.id)}
              />
            )}
          </Flex>
          <Text fontSize="sm">{spot.why}</Text>
        </Box>
      ))}
      {remove.error && <Notice error={remove.error} />}
      <Flex gap="4" mt="2" fontSize="sm">
        {(["gpx", "geojson"] as const).map((form) => (
          <a key={form} href={`/api/farms/${farm.slug}/probe-spots/export?form=${form}`} download>
            {form === "gpx" ? t("siting.exportGpx") : t("siting.exportGeojson")}
          </a>
        ))}
      </Flex>
    </Box>
  );
}
