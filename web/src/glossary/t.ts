import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("glossary", texts);

export { t };
