import { useQuery } from "@tanstack/react-query";
import { useAct } from "../../api/act";
import { api, Problem } from "../../api/client";
import { useSession } from "../../api/session";
import formCss from "../../frame/form/form.module.css";
import setUpCss from "./set-up.module.css";

/** The firm's logo: chosen, looked at, taken away. */
export function Logo() {
  const { role, firm } = useSession();
  const logo = useQuery({
    queryKey: ["logo"],
    queryFn: async () => {
      const answer = await fetch("/api/firm/logo");
      return answer.ok ? URL.createObjectURL(await answer.blob()) : null;
    },
  });
  const set = useAct(
    (file: File | null) => (file ? api.put("/api/files/logo", { body: file }) : api.delete("/api/firm/logo")),
    { records: true },
  );
  if (role !== "administrator" && !logo.data) return null;
  return (
    <div className={setUpCss.logo}>
      {logo.data && <img src={logo.data} alt={`Logo of ${firm}`} />}
      {role === "administrator" && (
        <p>
          <label className={formCss.fileChoice}>
            {logo.data ? "Change the logo" : "Choose a logo, PNG or JPEG"}
            <input
              type="file"
              aria-label="Logo"
              accept="image/png,image/jpeg"
              onChange={(event) => {
                const file = event.target.files?.[0];
                if (file) set.mutate(file);
                event.target.value = "";
              }}
            />
          </label>
          {logo.data && (
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
