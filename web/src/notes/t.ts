import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("notes", texts);

export { t };
