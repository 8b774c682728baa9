import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("leaf", texts);

export { t };
