import { Button } from "@chakra-ui/react";
import { lazy, Suspense, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { useSignedIn } from "../session/context";
import { usePreferences } from "../session/queries";
import { isTyping } from "./typing";
import { t } from "./t";

const KeyList = lazy(() => import("./KeyList"));

/** Keys that work on every page, and the list of all. */
export function Keys() {
  const [open, setOpen] = useState(false);
  const navigate = useNavigate();
  const { farm, person, may } = useSignedIn();
  const { mutate: prefer } = usePreferences();

  useEffect(() => {
    function press(event: KeyboardEvent) {
      if (isTyping(event)) return;
      const dark = document.documentElement.classList.contains("dark");
      if (event.key === "?") setOpen(true);
      else if (event.key === "b") void navigate(`/${farm.slug}`);
      else if (event.key === "i") void navigate(`/${farm.slug}/irrigation/log`);
      else if (event.key === "m") void navigate(`/${farm.slug}/farm/blocks`);
      else if (event.key === "n" && may("set_up_ground")) void navigate(`/${farm.slug}/new-block`);
      else if (event.key === "u") prefer({ units: person.units === "metric" ? "us" : "metric" });
      else if (event.key === "d") prefer({ theme: dark ? "light" : "dark" });
    }
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [navigate, farm.slug, person.units, prefer, may]);

  return (
    <>
      <Button
        variant="ghost"
        size="sm"
        px="2"
        aria-label={t("app.keyboardShortcuts")}
        display={{ base: "none", md: "inline-flex" }}
        onClick={() => setOpen(true)}
      >
        {t("app.shortcuts")}
      </Button>
      {open && (
        <Suspense fallback={null}>
          <KeyList close={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
