/** The least that a finger can hit, in px: WCAG 2.2, target size (minimum). */
export const TOUCH_PX = 24;
