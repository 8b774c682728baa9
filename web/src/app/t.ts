import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("app", texts);

export { t };
