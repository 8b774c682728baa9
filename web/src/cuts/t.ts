import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("cuts", texts);

export { t };
