import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("limits", texts);

export { t };
