import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("imports", texts);

export { t };
