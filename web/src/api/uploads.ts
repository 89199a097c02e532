import { answer, api, Refused } from "./client";
import type { UploadState } from "./generated";

/** How often the reading of a file is asked about, in ms. */
const POLL = 400;

/** Follow a reading to its end. */
export async function followReading(first: UploadState, onStep: (now: UploadState) => void): Promise<UploadState> {
  let upload = first;
  while (upload.state === "waiting" || upload.state === "reading") {
    onStep(upload);
    await new Promise((done) => setTimeout(done, POLL));
    upload = await answer(api.GET("/api/uploads/{job_id}", { params: { path: { job_id: upload.id } } }));
  }
  return upload;
}

/** The refusal of a reading, where it was refused. */
export function refusalOf(upload: UploadState): Refused | null {
  return upload.fault && new Refused(422, { ...upload.fault, where: upload.name });
}
