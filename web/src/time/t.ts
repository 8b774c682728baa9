import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("time", texts);

export { t };
