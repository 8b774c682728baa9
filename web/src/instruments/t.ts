import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("instruments", texts);

export { t };
