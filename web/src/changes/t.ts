import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("changes", texts);

export { t };
