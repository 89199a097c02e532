import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useLocation } from "wouter";
import { answer, api, asBytes, Refused } from "../api/client";
import type { SourceName, UploadState } from "../api/generated";
import { sendFile } from "../api/sendFile";
import { followReading, refusalOf } from "../api/uploads";
import { tell, useNotices } from "../ui/Notices";
import { append, join, joinOffer } from "./together";

const NO_NEWER_BUNDLE = {
  what: "A bundle replaces no table",
  where: "",
  remedy: "Bring it from the page of all studies: it becomes a comparison of its own.",
};

/** Where a table goes: into a study, into a new one, or in the place of a table that it is a newer export of. */
export type Target = { study: string } | { newStudy: string } | { replaces: string };

/** A file on its way: being sent, or with an id being read. */
interface Coming {
  name: string;
  progress: number;
  id: string | null;
}

/** From so many bytes on it is told how much is sent. */
const LARGE = 1_000_000;

/** Bring a file or pasted cells, follow the reading, and open the comparison it begins. */
export function useUpload() {
  const [state, setState] = useState<Coming | null>(null);
  const sending = useRef<AbortController | null>(null);
  const [, go] = useLocation();
  const client = useQueryClient();

  const refuseLarge = async (file: Blob, name: string) => {
    const { upload_megabytes: most } = await client.ensureQueryData({
      queryKey: ["me"],
      queryFn: () => answer(api.GET("/api/session")),
    });
    if (file.size <= most * 1e6) return;
    throw new Refused(413, {
      what: `The file is larger than the ${most} MB allowed`,
      where: name,
      remedy: "Keep the rows and columns you need and bring those.",
    });
  };

  /** Bring one file; what it became comes back, null where it was refused. */
  const bringOne = async (file: Blob, name: string, target: Target): Promise<UploadState | null> => {
    setState({ name, progress: 0, id: null });
    const stopped = new AbortController();
    sending.current = stopped;
    try {
      await refuseLarge(file, name);
      const upload = await followReading(await send(file, name, target, stopped.signal), ({ progress, id }) =>
        setState({ name, progress, id }),
      );
      await client.invalidateQueries({ queryKey: ["studies"] });
      if (upload.fault) await discard(upload, target);
      if (upload.same) {
        const remedy = "Nothing was stored twice.";
        useNotices.getState().add({ what: `The study holds this very file already`, where: name, remedy });
      }
      return upload;
    } catch (error) {
      // Who stopped it knows.
      if (!stopped.signal.aborted) tell(error);
      return null;
    } finally {
      setState(null);
    }
  };

  /** Send a file; it can be stopped meanwhile, and nothing of it stays. */
  const send = (file: Blob, name: string, target: Target, signal: AbortSignal): Promise<UploadState> => {
    const query = { name, ...placeOf(target) };
    if (file.size >= LARGE) {
      const onSent = (share: number) => setState({ name, progress: share, id: null });
      return sendFile(`/api/uploads?${new URLSearchParams(query)}`, file, onSent, signal);
    }
    const body = file as unknown as string;
    return answer(api.POST("/api/uploads", { params: { query }, body, signal, ...asBytes }));
  };

  /** Bring a bundle: its data, its preparation and its comparison with the trail, into a study or a new one. */
  const startBundle = async (file: Blob, name: string, target: Target) => {
    if ("replaces" in target) throw new Refused(422, NO_NEWER_BUNDLE);
    setState({ name, progress: 0, id: null });
    const made =
      "newStudy" in target ? await answer(api.POST("/api/studies", { body: { name: target.newStudy } })) : null;
    const study = "study" in target ? target.study : (made?.id ?? "");
    try {
      await refuseLarge(file, name);
      const { comparison } = await answer(
        api.POST("/api/studies/{study_id}/bundles", {
          params: { path: { study_id: study } },
          body: file as unknown as string,
          ...asBytes,
        }),
      );
      go(`/comparisons/${comparison}`);
    } catch (error) {
      if (made) await erase(made.id, made.name);
      throw error;
    } finally {
      setState(null);
      await client.invalidateQueries({ queryKey: ["studies"] });
    }
  };

  const start = async (file: Blob, name: string, target: Target) => {
    if (name.toLowerCase().endsWith(".zip")) return startBundle(file, name, target).catch(tell);
    const upload = await bringOne(file, name, target);
    if (upload?.comparison && !("replaces" in target)) go(`/comparisons/${upload.comparison}`);
    else if (upload?.table) go(`/tables/${upload.table}`);
  };

  /** Bring several files to one study; they can be joined or appended in one step. */
  const startAll = async (files: File[], target: Target) => {
    const tables: string[] = [];
    let place = target;
    for (const file of files) {
      const upload = await bringOne(file, file.name, place);
      if (!upload?.table) continue;
      tables.push(upload.table);
      place = { study: upload.study };
    }
    const [first, ...others] = tables;
    if (first === undefined) return;
    go(`/tables/${first}`);
    if (others.length === 0) return;
    const offer = others.length === 1 && others[0] ? await joinOffer(first, others[0]).catch(() => null) : null;
    const what = `${tables.length} tables came in`;
    const under = { name: "Append them", run: () => void append(client, first, others).catch(tell) };
    if (offer === null) {
      const remedy = "Where each holds one group, append them: a column then says which file a row is from.";
      useNotices.getState().add({ what, where: "", remedy }, [under]);
      return;
    }
    const beside = async () => {
      await join(client, offer);
      go(`/tables/${offer.here}`);
    };
    const remedy = `${offer.words}. Join them, or append one under the other.`;
    const actions = [{ name: "Join them", run: () => void beside().catch(tell) }, under];
    useNotices.getState().add({ what, where: "", remedy }, actions);
  };

  /** A new study that was made for a large file goes when the file is refused. */
  const discard = async (upload: UploadState, target: Target) => {
    if ("newStudy" in target) await erase(upload.study, target.newStudy);
    await client.invalidateQueries({ queryKey: ["studies"] });
    const refusal = refusalOf(upload);
    if (refusal) throw refusal;
  };

  /** Bring a source of many files, which an administrator named. */
  const startSource = async (source: SourceName, target: Target) => {
    if ("replaces" in target) return;
    setState({ name: source.name, progress: 0, id: null });
    try {
      const made =
        "newStudy" in target ? await answer(api.POST("/api/studies", { body: { name: target.newStudy } })) : null;
      const study_id = "study" in target ? target.study : (made?.id ?? "");
      const params = { path: { study_id } };
      const first = await answer(
        api.POST("/api/studies/{study_id}/sources", { params, body: { source: source.id } }),
      );
      await arrived(first, target);
    } catch (error) {
      tell(error);
    } finally {
      setState(null);
    }
  };

  /** Look for files that came to a table's source since. */
  const lookAgain = async (table: string, name: string) => {
    setState({ name, progress: 0, id: null });
    try {
      const params = { path: { table_id: table } };
      await arrived(await answer(api.POST("/api/tables/{table_id}/look-again", { params })), { replaces: table });
    } catch (error) {
      tell(error);
    } finally {
      setState(null);
    }
  };

  const arrived = async (first: UploadState, target: Target) => {
    const upload = await followReading(first, ({ name, progress, id }) => setState({ name, progress, id }));
    await client.invalidateQueries({ queryKey: ["studies"] });
    if (upload.fault) return discard(upload, target);
    if ("replaces" in target) {
      const what = upload.table === target.replaces ? "No file came since" : "Newer files came";
      useNotices.getState().add({ what, where: upload.name, remedy: "" });
      if (upload.table) go(`/tables/${upload.table}`);
    } else if (upload.comparison) go(`/comparisons/${upload.comparison}`);
    else if (upload.table) go(`/tables/${upload.table}`);
  };

  const stop = async () => {
    if (!state?.id) sending.current?.abort();
    if (state?.id)
      await answer(api.POST("/api/uploads/{job_id}/stop", { params: { path: { job_id: state.id } } })).catch(tell);
  };

  return { state, start, startAll, startSource, lookAgain, stop };
}

function placeOf(target: Target): { study?: string; replaces?: string; new_study?: string } {
  return "newStudy" in target ? { new_study: target.newStudy } : target;
}

/** A study that was made for what did not come in goes again. */
function erase(id: string, name: string) {
  return answer(api.DELETE("/api/studies/{study_id}", { params: { path: { study_id: id }, query: { name } } }));
}

/** A name for a study made from a file. */
export function studyName(file: string): string {
  return file.replace(/\.[^.]+$/, "") || "New study";
}
