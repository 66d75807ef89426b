/** What is wrong with something that was typed, and where in it. */
export interface Complaint {
  message: string;
  position: number;
  length: number;
}
