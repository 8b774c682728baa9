import { Stack } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Choice, Line } from "../form/Labelled";
import { problemsOf } from "../form/problems";
import { useSignedIn } from "../session/context";
import type { Role } from "../session/queries";
import { InvitationButtons, InvitationText, titleOf } from "./Invitation";
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
  const added = add.data && { name: add.data.person.name, token: add.data.token };
  return (
    <FormSheet
      title={added ? titleOf(added) : t("people.addPerson")}
      close={close}
      save={() => add.mutate({ name, email, role })}
      words={t("people.add")}
      pending={add.isPending}
      done={added && <InvitationButtons {...added} close={close} />}
    >
      {added ? (
        <InvitationText {...added} />
      ) : (
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
      )}
    </FormSheet>
  );
}
