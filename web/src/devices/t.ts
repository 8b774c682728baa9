import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("devices", texts);

export { t };
