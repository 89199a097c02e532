import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../../api/client";
import type { NewRemark, RemarkState, RemarkStates } from "../../api/generated";
import { dayOf } from "../../studies/days";
import { RemarkText } from "../../studies/RemarkText";
import { Button } from "../../ui/Button";
import { Modal } from "../../ui/Modal";
import { tell } from "../../ui/Notices";
import { useBenchActions, useBenchState, useComparison } from "../store/BenchContext";

/** What people of the study say of the figure or of a lane: said, answered, settled. */
export function RemarksPanel({ onClose }: { onClose: () => void }) {
  const client = useQueryClient();
  const { id, reloadMark } = useBenchActions();
  const comparison = useComparison();
  const scene = useBenchState((state) => state.scene);
  const names = scene?.readings.map(({ group, subgroup }) => [group, subgroup].filter(Boolean).join(", ")) ?? [];
  const lanes = [...new Set(names)].filter(Boolean);
  const params = { path: { comparison_id: id } };
  const key = ["remarks", id];
  const { data } = useQuery({
    queryKey: key,
    queryFn: () => answer(api.GET("/api/comparisons/{comparison_id}/remarks", { params })),
    staleTime: 0,
    refetchInterval: 8_000,
  });
  const take = (next: RemarkStates) => {
    client.setQueryData(key, next);
    reloadMark();
  };
  const say = (body: NewRemark) =>
    answer(api.POST("/api/comparisons/{comparison_id}/remarks", { params, body })).then(
      (next) => {
        take(next);
        return true;
      },
      (fault) => {
        tell(fault);
        return false;
      },
    );
  const settle = (remark: string, settled: boolean) =>
    void answer(
      api.PATCH("/api/remarks/{remark_id}", { params: { path: { remark_id: remark } }, body: { settled } }),
    ).then(take, tell);
  const open = data?.filter((remark) => !remark.settled_at) ?? [];
  const done = data?.filter((remark) => remark.settled_at) ?? [];
  return (
    <Modal
      title={`Remarks on ${comparison.name}`}
      words="For those of the study who may see rows: what is to be asked or known of this figure, until it is settled"
      className="top-[8vh] flex max-h-[84vh] w-[42rem] flex-col bg-sheet p-5 text-[13px]"
      onClose={onClose}
    >
      <div className="grid min-h-0 flex-1 content-start gap-3 overflow-y-auto">
        <Write lanes={lanes} onSay={say} />
        {data?.length === 0 && <p className="text-muted">No remark yet.</p>}
        {[...open, ...done].map((remark) => (
          <Said key={remark.id} remark={remark} head={comparison.head} onSay={say} onSettle={settle} />
        ))}
      </div>
    </Modal>
  );
}

type Say = (body: NewRemark) => Promise<boolean>;

function Write({ lanes, onSay }: { lanes: string[]; onSay: Say }) {
  const [text, setText] = useState("");
  const [lane, setLane] = useState("");
  const send = async () => {
    if (text.trim() && (await onSay({ text, lane }))) setText("");
  };
  return (
    <form
      className="grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        void send();
      }}
    >
      <textarea
        aria-label="A remark"
        placeholder="Is lot 2203 recalibrated?"
        value={text}
        rows={2}
        maxLength={4_000}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && event.ctrlKey && void send()}
        className="w-full rounded border border-hairline px-3 py-2 [field-sizing:content]"
      />
      <p className="flex items-center gap-3">
        <select
          aria-label="What the remark is on"
          value={lane}
          onChange={(event) => setLane(event.target.value)}
          className="max-w-[16rem] rounded border border-hairline bg-sheet px-1.5 py-1"
        >
          <option value="">on the whole figure</option>
          {lanes.map((name) => (
            <option key={name} value={name}>
              on {name}
            </option>
          ))}
        </select>
        <Button type="submit" disabled={!text.trim()}>
          Say it
        </Button>
      </p>
    </form>
  );
}

interface SaidProps {
  remark: RemarkState;
  head: number;
  onSay: Say;
  onSettle: (id: string, settled: boolean) => void;
}

function Said({ remark, head, onSay, onSettle }: SaidProps) {
  const [reply, setReply] = useState("");
  const settled = Boolean(remark.settled_at);
  return (
    <article className={`rounded border border-hairline px-3 py-2 ${settled ? "opacity-70" : ""}`}>
      <p className="text-[12px] text-muted">
        {remark.by}, {dayOf(remark.at)}
        {remark.lane && ` · on ${remark.lane}`}
        {remark.state !== head && ` · on state ${remark.state}`}
      </p>
      <RemarkText remark={remark} />
      <form
        className="mt-1.5 flex items-center gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (reply.trim()) void onSay({ text: reply, answers: remark.id }).then((said) => said && setReply(""));
        }}
      >
        {!settled && (
          <>
            <input
              aria-label={`Answer to ${remark.text}`}
              placeholder="Answer"
              value={reply}
              maxLength={4_000}
              onChange={(event) => setReply(event.target.value)}
              className="input min-w-0 flex-1 !py-0.5"
            />
            <Button type="submit" look="quiet" className="!p-0" disabled={!reply.trim()}>
              Answer
            </Button>
          </>
        )}
        {settled && (
          <span className="flex-1 text-[12px] text-muted">
            settled by {remark.settled_by}, {dayOf(remark.settled_at ?? "")}
          </span>
        )}
        <Button look="quiet" className="!p-0 !font-normal" onClick={() => onSettle(remark.id, !settled)}>
          {settled ? "Open again" : "Settled"}
        </Button>
      </form>
    </article>
  );
}
