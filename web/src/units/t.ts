import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("units", texts);

export { t };
