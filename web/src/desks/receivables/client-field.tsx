import { Select } from "antd";
import { useRead } from "../../api/read";

interface Props {
  value: number;
  onChange: (id: number) => void;
}

/** The client whose money it is. */
export function ClientField({ value, onChange }: Props) {
  const clients = useRead("/api/clients");
  return (
    <label>
      Client
      <Select
        aria-label="Client"
        showSearch={{ optionFilterProp: "label" }}
        placeholder="type a name"
        value={value || null}
        options={(clients.data?.clients ?? []).map((c) => ({ value: c.id, label: c.name, title: c.name }))}
        onChange={onChange}
      />
    </label>
  );
}
