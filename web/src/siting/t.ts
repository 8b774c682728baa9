import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("siting", texts);

export { t };
