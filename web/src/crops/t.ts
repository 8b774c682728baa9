import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("crops", texts);

export { t };
