import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("soils", texts);

export { t };
