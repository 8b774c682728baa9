import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("wettings", texts);

export { t };
