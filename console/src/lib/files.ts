/** What a call takes at once, in bytes before base64. */
export const mostBytes = 4 * 1024 * 1024;

/** The file's bytes in base64, read in pieces that fit a call's arguments. */
async function base64(file: File): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let text = '';
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(text);
}

/** Files as calls take them; one that was chosen with its folder has its path as its name. */
export const sent = (files: File[]) =>
  Promise.all(files.map(async (file) => ({ name: file.webkitRelativePath || file.name, content: await base64(file) })));

/** As many files as a call takes, in their order, and the names of the others. */
export function fitting(files: File[], most: number): { fit: File[]; left: string[] } {
  let room = mostBytes;
  const fit = files.slice(0, most).filter((f) => (f.size <= room ? ((room -= f.size), true) : false));
  return { fit, left: files.filter((f) => !fit.includes(f)).map((f) => f.name) };
}
