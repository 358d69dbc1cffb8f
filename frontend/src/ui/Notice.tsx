import { useNotices } from "./notices";

/** What went wrong, or what came of something, until it is read. */
export function Notice() {
  const { text, wrong, clear } = useNotices();
  if (!text) return null;
  return (
    <div
      role={wrong ? "alert" : "status"}
      data-testid="notice"
      className={`fixed bottom-6 left-1/2 z-50 flex max-w-2xl -translate-x-1/2 items-start gap-4 border px-4 py-3 shadow-lg ${wrong ? "border-wrong bg-wrong-wash" : "border-hand bg-hand-wash"}`}
    >
      <p className="first-letter:uppercase">{text}.</p>
      <button type="button" className={`font-semibold underline ${wrong ? "text-wrong" : "text-hand"}`} onClick={clear}>
        Close
      </button>
    </div>
  );
}
