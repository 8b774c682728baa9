import type { Role } from "../session/queries";
import { t } from "./t";

/** Each role's name, and what `server/farms/rules.py` lets it do, in words. */
export const ROLES: Record<Role, { name: string; may: string }> = {
  manager: { name: t("people.manager"), may: t("people.managerMay") },
  adviser: { name: t("people.adviser"), may: t("people.adviserMay") },
  irrigator: { name: t("people.irrigator"), may: t("people.irrigatorMay") },
  scout: { name: t("people.scout"), may: t("people.scoutMay") },
  viewer: { name: t("people.viewer"), may: t("people.viewerMay") },
};

export const ROLE_NAMES = Object.keys(ROLES) as Role[];
