/** One line of progress. */
export const say = (text) => console.log(`· ${text}`);

/** Something that stops the whole; its message is printed plainly, without a stack. */
export class Stop extends Error {}

/** Runs a command's main part and ends the process with its verdict. */
export async function main(work) {
  try {
    process.exitCode = (await work()) ?? 0;
  } catch (error) {
    console.error(error instanceof Stop ? `\n✗ ${error.message}` : error);
    process.exitCode = 1;
  }
}
