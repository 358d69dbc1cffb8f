/** The glob that only this name matches, as the server has it. */
export const exactly = (name: string) => name.replace(/[[*?]/g, "[$&]");
