import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("decide", texts);

export { t };
