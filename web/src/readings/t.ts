import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("readings", texts);

export { t };
