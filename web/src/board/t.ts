import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("board", texts);

export { t };
