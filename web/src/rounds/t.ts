import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("rounds", texts);

export { t };
