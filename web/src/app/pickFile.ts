/** Let the designer choose a file; null where none was chosen. */
export function pickFile(accept: string): Promise<File | null> {
  return new Promise((done) => {
    const input = document.createElement("input");
    input.type = "file";
    input.accept = accept;
    input.hidden = true;
    input.onchange = () => {
      done(input.files?.[0] ?? null);
      input.remove();
    };
    input.oncancel = () => {
      done(null);
      input.remove();
    };
    document.body.append(input);
    input.click();
  });
}
