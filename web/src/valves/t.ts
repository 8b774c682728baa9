import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("valves", texts);

export { t };
