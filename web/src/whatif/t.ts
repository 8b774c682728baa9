import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("whatif", texts);

export { t };
