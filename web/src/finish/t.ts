import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("finish", texts);

export { t };
