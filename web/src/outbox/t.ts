import { addTexts, t } from "../language/t";
import texts from "./texts.json";

addTexts("outbox", texts);

export { t };
