import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("session", texts);

export { t };
