import { useQuery } from "@tanstack/react-query";
import { Input, Modal } from "antd";
import { type KeyboardEvent, useState } from "react";
import { useNavigate } from "react-router";
import { api, of } from "../api/client";
import { useSession } from "../api/session";
import { useSignOut } from "./sign-out";

interface Hit {
  key: string;
  title: string;
  beside: string;
  go: () => void;
}

/** One place to find or do anything. */
export function Find({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const hits = useHits(text);
  const chosen = Math.min(at, hits.length - 1);
  const open = (hit: Hit | undefined) => {
    hit?.go();
    if (hit) onClose();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "ArrowDown") setAt(Math.min(chosen + 1, hits.length - 1));
    else if (event.key === "ArrowUp") setAt(Math.max(chosen - 1, 0));
    else if (event.key === "Enter") open(hits[chosen]);
    else return;
    event.preventDefault();
  };
  return (
    <Modal open footer={null} closable={false} onCancel={onClose} width={560} className="find" aria-label="Find">
      <Input
        autoFocus
        variant="borderless"
        placeholder="A client, an engagement, a number, or where to go"
        aria-label="Find"
        role="combobox"
        aria-expanded
        aria-controls="found"
        aria-activedescendant={hits[chosen]?.key}
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={onKeyDown}
      />
      <div id="found" role="listbox" aria-label="What was found" className="found">
        {hits.map((hit, index) => (
          <button
            type="button"
            key={hit.key}
            id={hit.key}
            role="option"
            aria-selected={index === chosen}
            className={index === chosen ? "hit chosen" : "hit"}
            onClick={() => open(hit)}
          >
            <span>{hit.title}</span>
            <span className="soft">{hit.beside}</span>
          </button>
        ))}
        {hits.length === 0 && <p className="soft">Nothing of that name. Try a part of it, or a number.</p>}
      </div>
    </Modal>
  );
}

function useHits(text: string): Hit[] {
  const navigate = useNavigate();
  const signOut = useSignOut();
  const { role } = useSession();
  const asked = text.trim();
  const found = useQuery({
    queryKey: ["find", asked],
    queryFn: () => of(api.GET("/api/find", { params: { query: { text: asked } } })),
    enabled: asked.length > 1,
  });
  const to = (path: string) => () => navigate(path);
  const places = [
    { key: "time", title: "My week", beside: "Time", go: to("/time") },
    { key: "signout", title: "Sign out", beside: "", go: signOut },
  ];
  if (role !== "staff") {
    places.unshift(
      { key: "wip", title: "What can be billed", beside: "Work in progress", go: to("/wip") },
      { key: "drafts", title: "Drafts", beside: "Billing", go: to("/billing") },
      { key: "register", title: "Register of invoices", beside: "Billing", go: to("/billing?show=register") },
    );
  }
  const matching = places.filter((place) =>
    `${place.title} ${place.beside}`.toLowerCase().includes(asked.toLowerCase()),
  );
  const hits = (found.data ?? []).map((hit) => ({
    key: `${hit.kind}-${hit.id}`,
    title: hit.title,
    beside: hit.beside,
    go: to(
      hit.kind === "invoice"
        ? `/billing/${hit.id}`
        : hit.kind === "client"
          ? `/wip?client=${hit.id}`
          : `/wip?open=${hit.id}`,
    ),
  }));
  return [...hits, ...matching];
}
