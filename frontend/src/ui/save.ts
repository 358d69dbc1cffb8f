/** A name without the signs that file systems refuse. */
export const fileName = (name: string) => name.replace(/[\\/:*?"<>|]/g, "-");

/** Hands a file to the browser to be saved. */
export function save(blob: Blob, name: string) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = fileName(name);
  link.click();
  window.setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}
