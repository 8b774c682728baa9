import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("calibration", texts);

export { t };
