import { useEffect } from "react";

import { useNotices } from "./notices";

/** What is only to be known goes by itself; what went wrong stays until it is read. */
const KNOWN_MS = 25_000;

/** What went wrong, or what came of something, until it is read. What is opened lies over what is only to be known. */
export function Notice() {
  const { text, action, wrong, clear } = useNotices();
  useEffect(() => {
    if (!text || wrong) return;
    const gone = window.setTimeout(clear, KNOWN_MS);
    return () => window.clearTimeout(gone);
  }, [text, wrong, clear]);
  if (!text) return null;
  return (
    <div
      role={wrong ? "alert" : "status"}
      data-testid="notice"
      className={`fixed bottom-6 left-1/2 flex max-w-2xl -translate-x-1/2 items-start gap-4 border px-4 py-3 shadow-lg ${wrong ? "z-50 border-wrong bg-wrong-wash" : "z-30 border-hand bg-hand-wash"}`}
    >
      <p className="first-letter:uppercase">{text}.</p>
      {action && (
        <button
          type="button"
          className="font-semibold whitespace-nowrap text-hand underline"
          onClick={() => {
            clear();
            action.onAct();
          }}
        >
          {action.text}
        </button>
      )}
      <button type="button" className={`font-semibold underline ${wrong ? "text-wrong" : "text-hand"}`} onClick={clear}>
        Close
      </button>
    </div>
  );
}
