import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("summary", texts);

export { t };
