import { useRead } from "../api/read";

/** What the signed-in person is told and has not put away. */
export const useNotices = () => useRead("/api/notices", undefined, { holds: 30_000 });
