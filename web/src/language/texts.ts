/* The English texts of all features, and of the server's vocabularies: those go by the names that
   the API has for them, and mail and PDF say the same. */

import vocabulary from "../../../server/base/vocabulary.json";
import answer from "../answer/texts.json";
import api from "../api/texts.json";
import app from "../app/texts.json";
import block from "../block/texts.json";
import board from "../board/texts.json";
import calibration from "../calibration/texts.json";
import checklist from "../checklist/texts.json";
import crops from "../crops/texts.json";
import decide from "../decide/texts.json";
import devices from "../devices/texts.json";
import form from "../form/texts.json";
import glossary from "../glossary/texts.json";
import ground from "../ground/texts.json";
import history from "../history/texts.json";
import imports from "../imports/texts.json";
import instruments from "../instruments/texts.json";
import irrigation from "../irrigation/texts.json";
import limits from "../limits/texts.json";
import map from "../map/texts.json";
import summary from "../summary/texts.json";
import readings from "../readings/texts.json";
import rounds from "../rounds/texts.json";
import session from "../session/texts.json";
import setup from "../setup/texts.json";
import soils from "../soils/texts.json";
import time from "../time/texts.json";
import units from "../units/texts.json";
import water from "../water/texts.json";
import weather from "../weather/texts.json";
import whatif from "../whatif/texts.json";

export const texts = {
  answer,
  api,
  app,
  block,
  board,
  calibration,
  checklist,
  crops,
  decide,
  devices,
  form,
  glossary,
  ground,
  history,
  imports,
  instruments,
  irrigation,
  limits,
  map,
  summary,
  readings,
  rounds,
  session,
  setup,
  soils,
  time,
  units,
  water,
  weather,
  whatif,
  ...vocabulary,
};
