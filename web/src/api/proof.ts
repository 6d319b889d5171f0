/** How the password is asked for once more where the server wants it: the frame shows it, and says whether it was right. */
export const proof = { ask: (): Promise<boolean> => Promise.resolve(false) };
