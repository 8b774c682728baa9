import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("farm", texts);

export { t };
