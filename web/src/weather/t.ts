import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("weather", texts);

export { t };
