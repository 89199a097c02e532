const KEYS: [string, string][] = [
  ["1 … 9, 0", "the first ten forms"],
  ["↑ ↓ in the forms", "one form to the next"],
  ["Ctrl K", "find an action, a setting, a column, a comparison"],
  ["Ctrl Z, Ctrl Shift Z", "undo, redo: back and forth on the trail"],
  ["F", "the figure over the whole window; Escape leaves"],
  ["P", "the next placement of lanes: beside, in halves, on one axis"],
  ["Q", "other questions of this table"],
  ["M", "every measure in this figure"],
  ["Tab to a lane's name", "its numbers; Space and arrow keys move it, Enter renames it"],
  ["Tab to a fence, guide, edge", "arrow keys move it, Page Up and Down in larger steps"],
  ["Tab to a count in the ledger", "Enter lists its rows"],
  ["Escape", "closes the row card, the rows, the full window"],
  ["?", "this help"],
];

/** All keys of the bench. */
export function KeyList() {
  return (
    <section aria-label="Keys" className="mt-4">
      <h3 className="text-[15px] font-bold">Keys</h3>
      <dl className="mt-2 grid grid-cols-[auto_1fr] gap-x-5 gap-y-1.5 text-[13px]">
        {KEYS.map(([keys, words]) => (
          <div key={keys} className="contents">
            <dt className="number text-[12.5px] text-petrol">{keys}</dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
