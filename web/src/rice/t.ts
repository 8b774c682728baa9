import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("rice", texts);

export { t };
