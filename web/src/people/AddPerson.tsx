import { Button, Code, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { Sheet } from "../app/Sheet";
import { FormSheet } from "../form/FormSheet";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import type { Role } from "../session/queries";
import { useAddPerson } from "./queries";
import { ROLE_NAMES, ROLES } from "./roles";
import { t } from "./t";

/** Names a new person, then shows the link that invites him. */
export function AddPerson({ close }: { close: () => void }) {
  const { farm } = useSignedIn();
  const add = useAddPerson(farm.slug);
  const [name, setName] = useState("");
  const [email, setEmail] = useState("");
  const [role, setRole] = useState<Role>("irrigator");
  const problems = problemsOf(add.error);
  if (add.data) {
    return <Invitation name={add.data.person.name} token={add.data.token} close={close} />;
  }
  return (
    <FormSheet
      title={t("people.addPerson")}
      close={close}
      save={() => add.mutate({ name, email, role })}
      words={t("people.add")}
      pending={add.isPending}
    >
      <Stack gap="3">
        <Line label={t("people.name")} value={name} change={setName} error={problems["name"]} />
        <Line
          label={t("people.email")}
          value={email}
          change={setEmail}
          error={problems["email"]}
          help={t("people.emailHelp")}
        />
        <Choice
          label={t("people.role")}
          value={role}
          change={(value) => setRole(value as Role)}
          help={ROLES[role].may}
        >
          {ROLE_NAMES.map((one) => (
            <option key={one} value={one}>
              {ROLES[one].name}
            </option>
          ))}
        </Choice>
        {add.error && Object.keys(problems).length === 0 && <Notice error={add.error} />}
      </Stack>
    </FormSheet>
  );
}

interface InvitationProps {
  name: string;
  /** Null for who has an account already. */
  token: string | null;
  close: () => void;
}

/** The link by which a person chooses a password, to be copied and sent. */
export function Invitation({ name, token, close }: InvitationProps) {
  const [copied, setCopied] = useState(false);
  // Behind the #: no server, and no log, is told what stands there.
  const link = token && `${window.location.origin}/join#${token}`;
  return (
    <Sheet
      title={link ? t("people.linkFor", { name }) : t("people.added", { name })}
      close={close}
      footer={
        <>
          {link && (
            <Button
              size="sm"
              variant="outline"
              onClick={() => void navigator.clipboard.writeText(link).then(() => setCopied(true))}
            >
              {copied ? t("people.copied") : t("people.copyTheLink")}
            </Button>
          )}
          <Button size="sm" onClick={close}>
            {t("people.done")}
          </Button>
        </>
      }
    >
      <Text>{link ? t("people.linkText", { name }) : t("people.hasAnAccount")}</Text>
      {link && (
        <Code display="block" p="3" mt="3" bg="bed" wordBreak="break-all" userSelect="all">
          {link}
        </Code>
      )}
    </Sheet>
  );
}
