/** Where notices stand: one below the other at the top of the view, in nobody's way where there is none. */
export const NOTICES = "pointer-events-none absolute inset-x-0 top-2.5 z-10 flex flex-col items-center gap-2";

/** How a notice looks. */
export const NOTICE = "pointer-events-auto border border-hand max-w-[calc(100%-1.25rem)] px-3 py-1.5 shadow-md";
