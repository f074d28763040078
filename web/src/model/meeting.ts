/** How two faces meet, as it was measured. */
interface Meeting {
  gap: number;
  angle: number;
  jump: number | null;
  grade: number | null;
}

/** What is above its limit, and what comes next. */
export function meetingReadings({ gap, angle, jump, grade }: Meeting): string {
  const said = [];
  if (grade === null) said.push(`${fixed(gap, 4)} mm apart`);
  said.push(`${fixed(angle, 3)}°`);
  if (jump !== null) said.push(`κ ${fixed(100 * jump, 2)} %`);
  return said.join(" · ");
}

/** The grade with its readings: `G1 · 0.001° · κ 12 %`. */
export const meetingInWords = (meeting: Meeting): string =>
  meeting.grade === null ? meetingReadings(meeting) : `G${meeting.grade} · ${meetingReadings(meeting)}`;

const fixed = (value: number, digits: number): string => {
  const text = value.toFixed(digits);
  return Number(text) === 0 && value > 0 ? `< ${(10 ** -digits).toFixed(digits)}` : text;
};
