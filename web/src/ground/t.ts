import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("ground", texts);

export { t };
