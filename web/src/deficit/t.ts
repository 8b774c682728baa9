import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("deficit", texts);

export { t };
