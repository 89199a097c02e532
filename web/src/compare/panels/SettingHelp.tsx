import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../../api/client";
import type { Setting } from "../../api/generated";
import { SceneView } from "../../scene/SceneView";

const SCALE = 0.72;

/** A setting whose meaning is shown. */
export interface Described {
  layer: string;
  setting: Setting;
}

/** What the setting in hand means, in a line and in tiny pictures of a few of its values. */
export function SettingHelp({ described: { layer, setting } }: { described: Described }) {
  const { data } = useQuery({
    queryKey: ["pictures", layer],
    queryFn: () => answer(api.GET("/api/layers/{layer}/pictures", { params: { path: { layer } } })),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const preview = data?.find((entry) => entry.path.join() === setting.path.join());
  return (
    <div
      data-testid="setting-help"
      className="sticky bottom-0 z-10 border-t border-hairline bg-sheet px-4 py-2 text-[12.5px] shadow-float"
    >
      <p>
        <strong>{setting.name}.</strong> {setting.meaning}
      </p>
      {preview && preview.pictures.length > 0 && (
        <div className="mt-1 flex justify-between gap-1">
          {preview.pictures.map((picture) => (
            <figure key={picture.words} className="text-center text-[11px] text-muted">
              <SceneView scene={picture.scene} scale={SCALE} label={`${setting.name}: ${picture.words}`} />
              <figcaption>{picture.words}</figcaption>
            </figure>
          ))}
        </div>
      )}
    </div>
  );
}
