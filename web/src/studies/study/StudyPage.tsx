import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { useState } from "react";
import { Link, useLocation } from "wouter";
import { answer, api } from "../../api/client";
import type { PatchedChangeStudy, StudyState } from "../../api/generated";
import { HelpButton } from "../../help/HelpButton";
import { mayChange, seesRows } from "../../roles";
import { Button } from "../../ui/Button";
import { Header } from "../../ui/Header";
import { Named } from "../../ui/Named";
import { Notes } from "../../ui/Notes";
import { tell } from "../../ui/Notices";
import { SignOut } from "../../ui/SignOut";
import { Bring } from "../Bring";
import { useStudies } from "../useStudies";
import { Activity } from "./Activity";
import { Comparisons } from "./Comparisons";
import { Folios } from "./Folios";
import { HouseStyle } from "./HouseStyle";
import { Links } from "./Links";
import { People } from "./People";
import { Remarks } from "./Remarks";
import { Settings } from "./Settings";
import { Tables } from "./Tables";
import { Teams } from "./Teams";

/** A study with all that it holds: comparisons, tables, folios and links, people, what happened. */
export function StudyPage({ id }: { id: string }) {
  const { data: study, error } = useQuery({
    queryKey: ["study", id],
    queryFn: () => answer(api.GET("/api/studies/{study_id}", { params: { path: { study_id: id } } })),
    staleTime: 0,
  });
  if (error) return <p className="p-8 text-warn">{error.message}. Go back to all studies.</p>;
  if (!study) return <p className="p-8 text-muted">Opening…</p>;
  return <Opened study={study} />;
}

function Opened({ study }: { study: StudyState }) {
  const client = useQueryClient();
  const studies = useStudies();
  const changing = mayChange(study.role);
  const owner = study.role === "owner";
  const again = () => Promise.all(["study", "studies"].map((key) => client.invalidateQueries({ queryKey: [key] })));
  const change = async (body: PatchedChangeStudy) => {
    const path = { study_id: study.id };
    await answer(api.PATCH("/api/studies/{study_id}", { params: { path }, body }));
    await again();
  };
  const parts = { study, changing, again };
  const open = study.comparisons.filter((comparison) => comparison.shelf === "open").length;
  const remarks = study.comparisons.reduce((sum, held) => sum + (held.shelf === "bin" ? 0 : held.remarks), 0);
  return (
    <div className="flex min-h-full flex-col">
      <title>{`${study.name} – Echelle`}</title>
      <Header
        place={
          <Link href="/" className="text-sheet/80 hover:underline">
            Studies
          </Link>
        }
      >
        <HelpButton place="study" />
        <SignOut />
      </Header>
      {study.archived && (
        <p role="status" className="flex gap-4 bg-warn-ground px-6 py-1.5 text-warn">
          This study is archived: it stands apart from those you work in.
          {owner && (
            <Button look="quiet" className="!p-0" onClick={() => void change({ archived: false }).catch(tell)}>
              Take it back
            </Button>
          )}
        </p>
      )}
      <main className="mx-auto w-full max-w-[1320px] flex-1 px-6 py-6">
        <div className="flex items-end gap-4">
          <h1 className="min-w-0 text-2xl font-bold">
            <Named name={study.name} what="study" onName={changing ? (name) => change({ name }) : null} />
          </h1>
          <span className="ml-auto" />
          {changing && (
            <Bring
              studies={studies}
              first={study.id}
              trigger={<Button className="!px-4 !py-2">Bring a table</Button>}
            />
          )}
        </div>
        <div className="mt-1">
          <Notes text={study.notes} what="study" onText={changing ? (notes) => change({ notes }) : null} />
        </div>
        <Parts
          names={[
            ["comparisons", "Comparisons", open],
            ["tables", "Tables", study.tables.length],
            ["folios", "Folios and links", study.folios.length],
            ...(seesRows(study.role) ? [["remarks", "Remarks", remarks] as Part] : []),
            ["people", "People", null],
            ["activity", "What happened", null],
          ]}
        >
          {(part) => (
            <>
              {part === "comparisons" && <Comparisons {...parts} />}
              {part === "tables" && <Tables {...parts} />}
              {part === "folios" && (
                <>
                  <Folios study={study} changing={changing} />
                  {changing && <Links study={study.id} />}
                  <HouseStyle study={study.id} />
                </>
              )}
              {part === "remarks" && <Remarks {...parts} />}
              {part === "people" && (
                <>
                  <People study={study.id} owner={owner} />
                  <Teams study={study.id} owner={owner} />
                  <Settings study={study} owner={owner} change={change} />
                </>
              )}
              {part === "activity" && <Activity study={study.id} />}
            </>
          )}
        </Parts>
      </main>
    </div>
  );
}

type Part = [name: string, words: string, count: number | null];

/** The parts of the page as tabs, each with its own address. */
function Parts(props: { names: Part[]; children: (part: string) => React.ReactNode }) {
  const [path, go] = useLocation();
  const [first] = useState(() => window.location.hash.slice(1));
  const [part, setPart] = useState(props.names.some(([name]) => name === first) ? first : "comparisons");
  const choose = (name: string) => {
    setPart(name);
    go(`${path}#${name}`, { replace: true });
  };
  return (
    <Tabs.Root value={part} onValueChange={choose} className="mt-5">
      <Tabs.List aria-label="Parts of the study" className="flex gap-6 border-b border-hairline">
        {props.names.map(([name, words, count]) => (
          <Tabs.Trigger
            key={name}
            value={name}
            className="-mb-px border-b-2 border-transparent pb-2 font-bold text-muted data-[state=active]:border-ink data-[state=active]:text-ink"
          >
            {words} {count !== null && <span className="text-sm font-normal">{count}</span>}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      {props.names.map(([name]) => (
        <Tabs.Content key={name} value={name} className="outline-none">
          {props.children(name)}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  );
}
