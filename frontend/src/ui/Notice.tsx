import { useNotices } from "./notices";

/** What went wrong, until it is read. */
export function Notice() {
  const { text, clear } = useNotices();
  if (!text) return null;
  return (
    <div
      role="alert"
      className="fixed bottom-6 left-1/2 z-50 flex max-w-2xl -translate-x-1/2 items-start gap-4 border border-wrong bg-wrong-wash px-4 py-3 shadow-lg"
    >
      <p className="first-letter:uppercase">{text}.</p>
      <button type="button" className="font-semibold text-wrong underline" onClick={clear}>
        Close
      </button>
    </div>
  );
}
