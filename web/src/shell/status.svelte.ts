/** What the shell's header says about keeping: one line, set by the open sheet. */
export const status = $state({ kept: "", trouble: false });
