import type { Role } from "../session/queries";
import { t } from "./t";

/** Each role's name, and what `server/farms/rules.py` lets it do, in words. */
export const ROLES: Record<Role, { name: string; may: string }> = {
  manager: { name: t("role.manager"), may: t("people.managerMay") },
  adviser: { name: t("role.adviser"), may: t("people.adviserMay") },
  irrigator: { name: t("role.irrigator"), may: t("people.irrigatorMay") },
  scout: { name: t("role.scout"), may: t("people.scoutMay") },
  viewer: { name: t("role.viewer"), may: t("people.viewerMay") },
};

export const ROLE_NAMES = Object.keys(ROLES) as Role[];
