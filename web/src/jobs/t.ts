import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("jobs", texts);

export { t };
