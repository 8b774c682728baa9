import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("runsheet", texts);

export { t };
