import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("risk", texts);

export { t };
