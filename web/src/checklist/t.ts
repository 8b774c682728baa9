import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("checklist", texts);

export { t };
