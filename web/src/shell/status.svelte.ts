/** What the shell's header says about keeping: one line, set by the open design, shown beside it alone. */
export const status = $state({ kept: "", trouble: false });
