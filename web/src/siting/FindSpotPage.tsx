import { Box, Heading, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { useSearchParams } from "react-router";
import { useSignedIn } from "../session/context";
import { ink } from "../theme/system";
import { number, withUnit } from "../units/format";
import { compassPoint, wayTo, type CompassPoint } from "./bearing";
import { t } from "./t";

const COMPASS: Record<CompassPoint, string> = {
  N: t("siting.north"),
  NE: t("siting.northEast"),
  E: t("siting.east"),
  SE: t("siting.southEast"),
  S: t("siting.south"),
  SW: t("siting.southWest"),
  W: t("siting.west"),
  NW: t("siting.northWest"),
};

interface Fix {
  at: [number, number];
  accuracy: number;
}

/** Which way and how far to a spot from where the phone is; all it needs is in its address, so that
 * it works without signal. */
export function FindSpotPage() {
  const { units } = useSignedIn();
  const [asked] = useSearchParams();
  const to: [number, number] = [Number(asked.get("longitude")), Number(asked.get("latitude"))];
  const [fix, setFix] = useState<Fix | null>(null);
  const [problem, setProblem] = useState<string | null>(
    "geolocation" in navigator ? null : t("siting.noReceiver"),
  );

  useEffect(() => {
    if (!("geolocation" in navigator)) return;
    const watch = navigator.geolocation.watchPosition(
      ({ coords }) => {
        setFix({ at: [coords.longitude, coords.latitude], accuracy: coords.accuracy });
        setProblem(null);
      },
      (error) =>
        setProblem(
          error.code === error.PERMISSION_DENIED
            ? t("siting.positionDenied")
            : t("siting.positionUnknown"),
        ),
      { enableHighAccuracy: true, maximumAge: 2000 },
    );
    return () => navigator.geolocation.clearWatch(watch);
  }, []);

  const way = fix && wayTo(fix.at, to);
  const near = way && fix && way.metres <= Math.max(fix.accuracy, 3);
  return (
    <Box maxW="460px" textAlign="center" mx="auto">
      <Heading as="h1" size="xl" fontWeight="700">
        {asked.get("name")}
      </Heading>
      <Text color="inkSoft">
        {to[1].toFixed(6)}, {to[0].toFixed(6)}
      </Text>
      {problem && (
        <Text mt="6" color="rust" role="alert">
          {problem}
        </Text>
      )}
      {!way && !problem && (
        <Text mt="6" role="status">
          {t("siting.waitingForPosition")}
        </Text>
      )}
      {way && fix && (
        <Box mt="4" role="status">
          <svg
            viewBox="-60 -60 120 120"
            width="230"
            height="230"
            style={{ margin: "0 auto" }}
            aria-hidden
          >
            <circle r="54" fill="none" stroke={ink("inkSoft")} strokeWidth="2" />
            <text y="-41" textAnchor="middle" fill={ink("ink")} style={{ fontSize: 12 }}>
              {t("siting.north")}
            </text>
            <path
              d="M0,-34 L13,24 L0,14 L-13,24 Z"
              fill={ink("waterDeep")}
              transform={`rotate(${way.degrees})`}
            />
          </svg>
          <Text fontSize="3xl" fontWeight="700">
            {near ? t("siting.hereItIs") : withUnit(way.metres, units, "length", 0)}
          </Text>
          <Text fontSize="xl">
            {COMPASS[compassPoint(way.degrees)]}, {number(way.degrees, 0)}°
          </Text>
          <Text color="inkSoft">
            {t("siting.receiverErrs", { metres: withUnit(fix.accuracy, units, "length", 0) })}
          </Text>
        </Box>
      )}
    </Box>
  );
}
