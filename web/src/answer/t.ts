import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("answer", texts);

export { t };
