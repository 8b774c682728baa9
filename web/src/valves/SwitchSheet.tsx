import { useState } from "react";
import { Notice } from "../app/Notice";
import { FormSheet } from "../form/FormSheet";
import { Tick } from "../form/Tick";
import { Cautions } from "./Cautions";
import { t } from "./t";

interface Props {
  save: () => void;
  pending: boolean;
  error: unknown;
  close: () => void;
}

/** Switches valve control on, once its cautions were read. */
export function SwitchSheet({ save, pending, error, close }: Props) {
  const [read, setRead] = useState(false);
  return (
    <FormSheet
      title={t("valves.switchOnTitle")}
      close={close}
      save={save}
      words={t("valves.switchItOn")}
      pending={pending}
      disabled={!read}
    >
      <Cautions />
      <Tick label={t("valves.cautionsRead")} on={read} change={setRead} />
      {error !== null && <Notice error={error} />}
    </FormSheet>
  );
}
