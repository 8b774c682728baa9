import { Button, Field, Input, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { problemsOf } from "../form/problems";
import { useChangePassword } from "../session/queries";
import { t } from "./t";

/** Changes the password of whoever is signed in. */
export default function PasswordSheet({ close }: { close: () => void }) {
  const change = useChangePassword();
  const [current, setCurrent] = useState("");
  const [password, setPassword] = useState("");
  const problems = problemsOf(change.error);
  const lines = [
    {
      name: "current",
      label: t("people.current"),
      kind: "current-password",
      value: current,
      set: setCurrent,
    },
    {
      name: "password",
      label: t("people.newPassword"),
      kind: "new-password",
      value: password,
      set: setPassword,
      help: t("people.passwordHelp"),
    },
  ];
  return (
    <FormSheet
      title={change.isSuccess ? t("people.passwordSaved") : t("people.changePassword")}
      close={close}
      save={() => change.mutate({ current, password })}
      words={t("people.savePassword")}
      pending={change.isPending}
      done={
        change.isSuccess && (
          <Button size="sm" onClick={close}>
            {t("people.done")}
          </Button>
        )
      }
    >
      <Stack gap="3">
        {lines.map((line) => (
          <Field.Root key={line.name} required invalid={Boolean(problems[line.name])}>
            <Field.Label>{line.label}</Field.Label>
            <Input
              size="sm"
              type="password"
              autoComplete={line.kind}
              value={line.value}
              onChange={(e) => line.set(e.target.value)}
            />
            {line.help && !problems[line.name] && <Field.HelperText>{line.help}</Field.HelperText>}
            <Field.ErrorText>{problems[line.name]}</Field.ErrorText>
          </Field.Root>
        ))}
        <Text fontSize="sm" color="inkSoft">
          {t("people.passwordText")}
        </Text>
        {change.error && Object.keys(problems).length === 0 && <Notice error={change.error} />}
      </Stack>
    </FormSheet>
  );
}
