import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("block", texts);

export { t };
