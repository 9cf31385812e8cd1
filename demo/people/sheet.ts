/** Eight faces in three poses each, a row a pose: the sheet by which the faces are judged. Pixels, and degrees of the head's turn. */
export const SHEET = { width: 132, height: 152, turns: [-20, 0, 22] };
