import { Box, Heading } from "@chakra-ui/react";
import { Link } from "react-router";
import { LinkButton } from "../app/LinkButton";
import { useSignedIn } from "../session/context";
import type { FarmTime } from "../time/farmTime";
import { FindingCard } from "./FindingCard";
import type { Finding } from "./queries";
import { t } from "./t";

interface Props {
  findings: Finding[];
  time: FarmTime;
  show: (finding: Finding) => void;
}

/** What is wrong on a block; nothing at all where nothing is. */
export function BlockFindings({ findings, time, show }: Props) {
  const { farm } = useSignedIn();
  if (findings.length === 0) return null;
  return (
    <Box as="section" aria-labelledby="block-findings" mt="6">
      <Heading as="h2" id="block-findings" size="lg">
        {t("findings.ofThisBlock")}
      </Heading>
      <Box as="ul" p="0" m="0">
        {findings.map((f) => (
          <FindingCard
            key={f.id}
            finding={f}
            time={time}
            block={null}
            show={<LinkButton onClick={() => show(f)}>{t("findings.showOnGraph")}</LinkButton>}
          />
        ))}
      </Box>
      <Link to={`/${farm.slug}/farm/findings`} style={{ textDecoration: "underline" }}>
        {t("findings.allFindings")}
      </Link>
    </Box>
  );
}
