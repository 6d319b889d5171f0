import { useQuery } from "@tanstack/react-query";
import { useAct } from "../../api/act";
import { api, Problem } from "../../api/client";
import { useSession } from "../../api/session";
import { FileChoice } from "../../frame/file-choice";
import formCss from "../../frame/form/form.module.css";
import { useMayChange } from "../../frame/record/sheet";
import setUpCss from "./set-up.module.css";

/** The firm's logo: chosen, looked at, taken away. */
export function Logo() {
  const { role, firm } = useSession();
  return (
    <Chosen
      address="/api/firm/logo"
      name="logo"
      alt={`Logo of ${firm}`}
      mayChange={role === "administrator"}
      keep={(file) => (file ? api.put("/api/files/logo", { body: file }) : api.delete("/api/firm/logo"))}
      goes
    />
  );
}

/** One of the firm's pictures. */
export function Picture({ id, name }: { id: number; name: string }) {
  return (
    <Chosen
      address={`/api/pictures/${id}`}
      name="picture"
      alt={name}
      mayChange={useMayChange("pictures")}
      keep={(file) => (file ? api.put("/api/files/pictures/{id}", { path: { id }, body: file }) : Promise.resolve())}
    />
  );
}

/** The file of an enclosure: chosen, and read. */
export function EnclosureFile({ id, file }: { id: number; file: string }) {
  const keep = useAct(
    (file: File) => api.put("/api/files/enclosures/{id}", { path: { id }, query: { name: file.name }, body: file }),
    { records: true },
  );
  return (
    <p className={setUpCss.logo}>
      {file && (
        <a href={`/api/enclosures/${id}/file`} download={file}>
          {file}
        </a>
      )}{" "}
      {useMayChange("enclosures") && (
        <FileChoice
          words={file ? "Choose another file" : "Choose its file"}
          busy={keep.isPending}
          problem={keep.error}
          onFile={(file) => keep.mutate(file)}
        />
      )}
    </p>
  );
}

interface Props {
  /** Where it is read. */
  address: string;
  name: string;
  alt: string;
  mayChange: boolean;
  keep: (file: File | null) => Promise<unknown>;
  /** It can be taken away. */
  goes?: boolean;
}

function Chosen({ address, name, alt, mayChange, keep, goes }: Props) {
  const there = useQuery({
    queryKey: ["logo", address],
    queryFn: async () => {
      const answer = await fetch(address);
      return answer.ok ? URL.createObjectURL(await answer.blob()) : null;
    },
  });
  const set = useAct(keep, { records: true });
  if (!mayChange && !there.data) return null;
  return (
    <div className={setUpCss.logo}>
      {there.data && <img src={there.data} alt={alt} />}
      {mayChange && (
        <p>
          <label className={formCss.fileChoice}>
            {there.data ? `Change the ${name}` : `Choose a ${name}, PNG or JPEG`}
            <input
              type="file"
              aria-label={name === "logo" ? "Logo" : "Picture"}
              accept="image/png,image/jpeg"
              onChange={(event) => {
                const file = event.target.files?.[0];
                if (file) set.mutate(file);
                event.target.value = "";
              }}
            />
          </label>
          {there.data && goes && (
            <button type="button" className="link lost" onClick={() => set.mutate(null)}>
              Take it away
            </button>
          )}
        </p>
      )}
      {set.error instanceof Problem && <p className="refusal">{set.error.message}</p>}
    </div>
  );
}
