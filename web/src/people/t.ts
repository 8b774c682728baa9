import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("people", texts);

export { t };
