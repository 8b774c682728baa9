import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("history", texts);

export { t };
