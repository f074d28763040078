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

/** The grade, and what keeps it from the next one: `G1 · κ 12.00 %`. */
export function meetingInWords(meeting: Meeting): string {
  const { grade, angle, jump } = meeting;
  if (grade === null) return meetingReadings(meeting);
  const next = grade === 0 ? `${fixed(angle, 3)}°` : grade === 1 && jump !== null ? `κ ${fixed(100 * jump, 2)} %` : "";
  return next ? `G${grade} · ${next}` : `G${grade}`;
}

const fixed = (value: number, digits: number): string => {
  const text = value.toFixed(digits);
  return Number(text) === 0 && value > 0 ? `< ${(10 ** -digits).toFixed(digits)}` : text;
};
