import type { RemarkState } from "../api/generated";
import { dayOf } from "./days";

/** What a remark says, with its answers. */
export function RemarkText({ remark }: { remark: RemarkState }) {
  return (
    <>
      <p className="whitespace-pre-wrap">{remark.text}</p>
      {remark.answers.map((said) => (
        <p key={said.id} className="mt-1 border-l-2 border-hairline pl-3 whitespace-pre-wrap">
          {said.text}{" "}
          <span className="text-[12px] text-muted">
            {said.by}, {dayOf(said.at)}
          </span>
        </p>
      ))}
    </>
  );
}
