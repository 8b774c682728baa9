import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("form", texts);

export { t };
