import { Box, Grid, Heading, Text } from "@chakra-ui/react";
import { ink } from "../theme/system";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { figure, measure, waterShort } from "../units/format";
import type { WeatherData } from "./queries";
import { t } from "./t";

const HEIGHT = 46;

/** The forecast day by day: use with its range, the chance of rain and what it would bring. */
export function Ahead({ weather, time }: { weather: WeatherData; time: FarmTime }) {
  const { units } = useSignedIn();
  const days = weather.ahead;
  if (days.length === 0) {
    return <Text color="inkSoft">{t("weather.thereIsNoForecastTheDaysAhead")}</Text>;
  }
  const most = Math.max(...days.map((d) => d.et0_high_mm), 1);
  const y = (mm: number) => HEIGHT - (mm / most) * HEIGHT;
  return (
    <Box as="section" aria-labelledby="ahead">
      <Heading as="h2" id="ahead" size="lg">
        {t("weather.ahead")}
      </Heading>
      <Text color="inkSoft" fontSize="sm" mb="3">
        {t("weather.theBarIsTheExpectedGrassEt", { aheadSource: weather.ahead_source })}
      </Text>
      <Grid
        templateColumns={`repeat(${days.length}, minmax(62px, 1fr))`}
        gap="2"
        overflowX="auto"
        tabIndex={0}
        role="group"
        aria-labelledby="ahead"
        pb="1"
      >
        {days.map((d) => {
          const noon = new Date(`${d.date}T12:00:00Z`);
          return (
            <Box key={d.date} fontSize="sm" lineHeight="1.35">
              <Text fontWeight="600" whiteSpace="nowrap">
                {time.weekday(noon)} {time.dayOfMonth(noon)}
              </Text>
              <svg
                width="100%"
                height={HEIGHT}
                aria-hidden
                viewBox={`0 0 40 ${HEIGHT}`}
                preserveAspectRatio="xMinYMax meet"
              >
                <rect
                  x={0}
                  y={y(d.et0_mm)}
                  width={16}
                  height={HEIGHT - y(d.et0_mm)}
                  fill={ink("straw")}
                />
                <line
                  x1={8}
                  x2={8}
                  y1={y(d.et0_high_mm)}
                  y2={y(d.et0_low_mm)}
                  stroke={ink("ink")}
                  strokeWidth={1.6}
                />
              </svg>
              <Text>{figure(d.et0_mm, units, "waterDay")}</Text>
              <Text
                color={d.rain_chance >= 0.5 ? "water" : "inkSoft"}
                fontWeight={d.rain_chance >= 0.5 ? "700" : "400"}
              >
                {d.rain_chance < 0.05 ? t("weather.dry") : `${Math.round(d.rain_chance * 100)} %`}
              </Text>
              {d.rain_chance >= 0.05 && (
                <Text color="inkSoft" fontSize="xs">
                  {t("weather.to", { rainHigh: waterShort(d.rain_high_mm, units) })}
                </Text>
              )}
            </Box>
          );
        })}
      </Grid>
      <Text fontSize="xs" color="inkSoft">
        {t("weather.grassEt", { label: measure(units, "waterDay").label })}
      </Text>
    </Box>
  );
}
