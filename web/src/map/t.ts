import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("map", texts);

export { t };
