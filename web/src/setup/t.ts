import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("setup", texts);

export { t };
