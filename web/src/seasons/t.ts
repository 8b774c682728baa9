import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("seasons", texts);

export { t };
