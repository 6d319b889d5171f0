import { useSearchParams } from "react-router";
import { SaidChoice } from "../../frame/sentence";

/** Drafts, or the register. */
export function Which({ value }: { value: "drafts" | "register" }) {
  const [, setSearch] = useSearchParams();
  return (
    <SaidChoice
      label="Show"
      value={value}
      choices={[
        { value: "drafts", label: "drafts still to be issued" },
        { value: "register", label: "everything ever issued" },
      ]}
      onChange={(show) => setSearch({ show })}
    />
  );
}
