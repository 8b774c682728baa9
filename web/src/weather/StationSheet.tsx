import { Grid, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { FormSheet } from "../form/FormSheet";
import { useSignedIn } from "../session/context";
import { asText, forForm, measure, typed } from "../units/format";
import { useSetStation, type StationPlace } from "./queries";
import { t } from "./t";

interface Props {
  station: StationPlace;
  close: () => void;
}

/** Where the weather station stands: what the sun's radiation is worked out from. */
export function StationSheet({ station, close }: Props) {
  const { farm, units } = useSignedIn();
  const save = useSetStation(farm.slug);
  const [latitude, setLatitude] = useState(asText(station.latitude));
  const [longitude, setLongitude] = useState(asText(station.longitude));
  const [height, setHeight] = useState(forForm(station.elevation_m, units, "length"));
  const problems = problemsOf(save.error);
  const body = (): StationPlace => ({
    latitude: typed(latitude, "metric", "water"),
    longitude: typed(longitude, "metric", "water"),
    elevation_m: typed(height, units, "length", station.elevation_m),
  });
  return (
    <FormSheet
      title={t("weather.weatherStation")}
      close={close}
      save={() => save.mutate(body(), { onSuccess: close })}
      words={t("weather.save")}
      pending={save.isPending}
    >
      <Grid gap="3">
        <Line
          label={t("weather.latitudeNorthPositive")}
          unit="°"
          numeric
          value={latitude}
          change={setLatitude}
          error={problems["latitude"]}
        />
        <Line
          label={t("weather.longitudeEastPositive")}
          unit="°"
          numeric
          value={longitude}
          change={setLongitude}
          error={problems["longitude"]}
        />
        <Line
          label={t("weather.heightAboveTheSea")}
          unit={measure(units, "length").label}
          numeric
          value={height}
          change={setHeight}
          error={problems["elevation_m"]}
        />
      </Grid>
      <Text fontSize="sm" color="inkSoft" mt="3">
        {t("weather.recordedDaysKeepTheEtTheyHave")}
      </Text>
      {save.error && <Notice error={save.error} />}
    </FormSheet>
  );
}
