import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("supply", texts);

export { t };
