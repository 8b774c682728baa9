import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("irrigation", texts);

export { t };
