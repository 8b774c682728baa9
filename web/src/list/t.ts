import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("list", texts);

export { t };
