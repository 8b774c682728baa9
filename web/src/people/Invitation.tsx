import { Button, Code, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Sheet } from "../app/Sheet";
import { t } from "./t";

export interface Invited {
  name: string;
  /** Null for who has an account already. */
  token: string | null;
}

/** Behind the #: no server, and no log, is told what stands there. */
function linkOf(token: string): string {
  return `${window.location.origin}/join#${token}`;
}

export function titleOf({ name, token }: Invited): string {
  return token ? t("people.linkFor", { name }) : t("people.added", { name });
}

/** The link by which a person chooses a password, to be sent. */
export function InvitationText({ name, token }: Invited) {
  if (!token) return <Text>{t("people.hasAnAccount")}</Text>;
  return (
    <>
      <Text>{t("people.linkText", { name })}</Text>
      <Code display="block" p="3" mt="3" bg="bed" wordBreak="break-all" userSelect="all">
        {linkOf(token)}
      </Code>
    </>
  );
}

export function InvitationButtons({ token, close }: Invited & { close: () => void }) {
  const [copied, setCopied] = useState(false);
  const copy = (link: string) => navigator.clipboard.writeText(link).then(() => setCopied(true));
  return (
    <>
      {token && (
        <Button size="sm" variant="outline" onClick={() => void copy(linkOf(token))}>
          {copied ? t("people.copied") : t("people.copyTheLink")}
        </Button>
      )}
      <Button size="sm" onClick={close}>
        {t("people.done")}
      </Button>
    </>
  );
}

/** A new link for who has not come yet. */
export function Invitation(props: Invited & { close: () => void }) {
  return (
    <Sheet title={titleOf(props)} close={props.close} footer={<InvitationButtons {...props} />}>
      <InvitationText {...props} />
    </Sheet>
  );
}
