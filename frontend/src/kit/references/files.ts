import { freeName } from "../../shared/freeName";

/** The endings that a reference may have. */
export const types = { ".png": "picture", ".jpg": "picture", ".jpeg": "picture", ".webp": "picture", ".wav": "sound", ".ogg": "sound" };
const largest = 4 * 2 ** 20;

/** A file as base64, or why it cannot be pinned. What it really is, the server sees by its bytes. */
export async function read(file: File): Promise<{ data: string } | { problem: string }> {
  if (file.size > largest) return { problem: `it has ${(file.size / 2 ** 20).toFixed(1)} MiB, of at most 4.` };
  const reader = new FileReader();
  const done = new Promise<string | null>((resolve) => {
    reader.onload = () => { resolve(reader.result as string); };
    reader.onerror = () => { resolve(null); };
  });
  reader.readAsDataURL(file);
  const address = await done;
  return address === null ? { problem: "it cannot be read." } : { data: address.slice(address.indexOf(",") + 1) };
}

/** A name for a reference, made of the name of its file, that none has. */
export function freshName(file: string, taken: string[]): string {
  const plain = file.replace(/\.[^.]*$/, "").replace(/[^\p{L}\p{N}_ -]/gu, " ").replace(/\s+/g, " ").replace(/^[^\p{L}\p{N}]+/u, "").trim().slice(0, 60) || "reference";
  return freeName(plain, taken);
}
