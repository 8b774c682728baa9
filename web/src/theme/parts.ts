import { defineConfig } from "@chakra-ui/react";
import {
  animationStyles,
  breakpoints,
  buttonRecipe,
  checkboxSlotRecipe,
  checkmarkRecipe,
  codeRecipe,
  cssVarsPrefix,
  cssVarsRoot,
  dialogSlotRecipe,
  fieldSlotRecipe,
  globalCss,
  headingRecipe,
  iconRecipe,
  inputRecipe,
  kbdRecipe,
  keyframes,
  layerStyles,
  linkRecipe,
  listSlotRecipe,
  menuSlotRecipe,
  nativeSelectSlotRecipe,
  popoverSlotRecipe,
  progressSlotRecipe,
  segmentGroupSlotRecipe,
  semanticTokens,
  sliderSlotRecipe,
  spinnerRecipe,
  tableSlotRecipe,
  tabsSlotRecipe,
  textareaRecipe,
  textStyles,
  tokens,
} from "@chakra-ui/react/theme";

/* Chakra's own theme with the parts that are used: the styles of all sixty would be fetched before
   the first page is drawn. One that is used and missing here has no style; `parts.test.ts` finds it. */

export const RECIPES = {
  button: buttonRecipe,
  checkmark: checkmarkRecipe,
  code: codeRecipe,
  heading: headingRecipe,
  icon: iconRecipe,
  input: inputRecipe,
  kbd: kbdRecipe,
  link: linkRecipe,
  spinner: spinnerRecipe,
  textarea: textareaRecipe,
};

export const SLOT_RECIPES = {
  checkbox: checkboxSlotRecipe,
  dialog: dialogSlotRecipe,
  field: fieldSlotRecipe,
  list: listSlotRecipe,
  menu: menuSlotRecipe,
  nativeSelect: nativeSelectSlotRecipe,
  popover: popoverSlotRecipe,
  progress: progressSlotRecipe,
  segmentGroup: segmentGroupSlotRecipe,
  slider: sliderSlotRecipe,
  table: tableSlotRecipe,
  tabs: tabsSlotRecipe,
};

export const parts = defineConfig({
  preflight: true,
  cssVarsPrefix,
  cssVarsRoot,
  globalCss,
  theme: {
    breakpoints,
    keyframes,
    tokens,
    semanticTokens,
    recipes: RECIPES,
    slotRecipes: SLOT_RECIPES,
    textStyles,
    layerStyles,
    animationStyles,
  },
});
