import { Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { ink } from "../theme/system";
import type { SheetData } from "./queries";
import { cheapAndDear } from "./lanes";
import { t } from "./t";

function Swatch({ words, children }: { words: string; children: ReactNode }) {
  return (
    <span style={{ display: "inline-flex", alignItems: "center", gap: 6 }}>
      <svg width="26" height="14" aria-hidden="true">
        {children}
      </svg>
      {words}
    </span>
  );
}

/** What fills, lines and shading of the chart stand for: those that are on it. */
export function SheetKey({ sheet }: { sheet: SheetData }) {
  const priced = sheet.sources.map((s) => cheapAndDear(s.price_kwh));
  const box = { x: 1, y: 1, width: 24, height: 12, strokeWidth: 1 };
  const has = (status: string) => sheet.sets.some((s) => s.status === status);
  return (
    <Flex columnGap="5" rowGap="1" wrap="wrap" fontSize="sm" color="inkSoft" mt="2">
      {has("draft") && (
        <Swatch words={t("runsheet.statusDraft")}>
          <rect {...box} fill={ink("sheet")} stroke={ink("water")} strokeDasharray="4 2" />
        </Swatch>
      )}
      {has("announced") && (
        <Swatch words={t("runsheet.statusAnnounced")}>
          <rect {...box} fill={ink("waterRim")} stroke={ink("water")} />
        </Swatch>
      )}
      {sheet.standing.length > 0 && (
        <Swatch words={t("runsheet.statusStanding")}>
          <rect {...box} fill={ink("waterRim")} stroke={ink("water")} />
          <rect x={1} y={1} width={3} height={12} fill={ink("waterDeep")} />
        </Swatch>
      )}
      {sheet.sets.some((s) => s.pinned) && (
        <Swatch words={t("runsheet.pinned")}>
          <circle cx={13} cy={7} r={3.4} fill={ink("ink")} />
        </Swatch>
      )}
      {sheet.nights.length > 0 && (
        <Swatch words={t("runsheet.night")}>
          <rect x={1} y={5} width={24} height={4} fill={ink("inkSoft")} />
        </Swatch>
      )}
      {priced.some((p) => p.cheap.length > 0) && (
        <Swatch words={t("runsheet.cheapPower")}>
          <rect {...box} fill={ink("bedAhead")} stroke={ink("rule")} />
        </Swatch>
      )}
      {priced.some((p) => p.dear.length > 0) && (
        <Swatch words={t("runsheet.dearPower")}>
          <rect {...box} fill="url(#dear)" stroke={ink("rule")} />
        </Swatch>
      )}
      {sheet.blocks.some((b) => b.windy.length > 0) && (
        <Swatch words={t("runsheet.windy")}>
          <rect {...box} fill="url(#windy)" stroke={ink("rule")} />
        </Swatch>
      )}
      {sheet.sources.some((s) => s.closed.length > 0) && (
        <Swatch words={t("runsheet.closed")}>
          <rect {...box} fill="url(#closed)" stroke={ink("rule")} />
        </Swatch>
      )}
    </Flex>
  );
}
