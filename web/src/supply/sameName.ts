/** Whether two names mean the same supply: as the server has it, without regard to capitals. */
export const same = (a: string, b: string) => a.trim().toLowerCase() === b.trim().toLowerCase();
