import { useAct } from "../../api/act";
import { api, type Schema } from "../../api/client";
import { useRead } from "../../api/read";

export type BankEntry = Schema["BankEntry"];
export type EntryProposal = Schema["EntryProposal"];
export type Found = Schema["FoundStatement"];
export type EntryState = "" | BankEntry["state"];
type Taking = Schema["Taking"];

export const useBankEntries = (account: number, state: EntryState) =>
  useRead("/api/bank/entries", { query: { account, state } }, { keeps: true });

export const useStatements = () => useRead("/api/bank/statements", { query: { account: 0 } });

/** What somebody says of an entry, besides its version. */
export type Said = Partial<Omit<Taking, "version">> & Pick<Taking, "as">;

export const useTake = () =>
  useAct(({ entry, said }: { entry: BankEntry; said: Said }) =>
    api.post("/api/bank/entries/{id}/taken", {
      path: { id: entry.id },
      body: {
        version: entry.version,
        clientId: 0,
        engagementId: 0,
        paymentId: 0,
        requestId: 0,
        on: [],
        transferIds: [],
        ...said,
      },
    }),
  );

export const useTakeCertain = (account: number) => useAct(() => api.post("/api/bank/certain", { query: { account } }));

export const useAside = () =>
  useAct(({ entry, as }: { entry: BankEntry; as: string }) =>
    api.post("/api/bank/entries/{id}/aside", { path: { id: entry.id }, body: { version: entry.version, as } }),
  );

export const useUndoEntry = () =>
  useAct((entry: BankEntry) =>
    api.post("/api/bank/entries/{id}/undo", { path: { id: entry.id }, body: { version: entry.version } }),
  );

/** A file as it is sent: its bytes in base64. */
const encoded = (file: File) =>
  new Promise<string>((done, fail) => {
    const reader = new FileReader();
    reader.onload = () => done(String(reader.result).split(",")[1] ?? "");
    reader.onerror = () => fail(reader.error);
    reader.readAsDataURL(file);
  });

const bodyOf = async (files: File[], accountId: number) => ({
  files: await Promise.all(files.map(async (file) => ({ name: file.name, accountId, content: await encoded(file) }))),
});

export interface Chosen {
  files: File[];
  account: number;
}

export const useTryFiles = () =>
  useAct(
    async ({ files, account }: Chosen) => api.post("/api/files/bank/check", { body: await bodyOf(files, account) }),
    {
      changesNothing: true,
    },
  );

export const useReadFiles = () =>
  useAct(async ({ files, account }: Chosen) => api.post("/api/files/bank", { body: await bodyOf(files, account) }));
