import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("api", texts);

export { t };
