import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("findings", texts);

export { t };
