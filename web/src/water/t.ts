import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("water", texts);

export { t };
