export { Sheet } from "../part/Sheet";
