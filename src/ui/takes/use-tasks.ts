import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useState } from 'react';
import type { Task, TaskData } from '@/core/tasks/task';
import { getJson, sendJson } from '@/live/api';

const LOOK_EVERY_MS = 1000;

export interface Tasks {
  list: readonly TaskData[] | null;
  trouble: string;
  ask(task: Task): void;
  cancel(id: string): void;
}

/** The work on a take, looked at again while any of it is open. */
export function useTasks(take: string): Tasks {
  const [list, setList] = useState<readonly TaskData[] | null>(null);
  const [trouble, setTrouble] = useState('');
  const look = useCallback(() => getJson<TaskData[]>(`/api/takes/${take}/tasks`).then(setList, (error: Error) => setTrouble(error.message)), [take]);
  const router = useRouter();
  // A track that was made since this page was loaded is fetched with it.
  const made = list?.filter(({ kind, state }) => (kind === 'repair' || kind === 'quieten' || kind === 'home') && state === 'done').length ?? null;
  const [seen, setSeen] = useState<number | null>(null);
  if (made !== null && seen !== made) setSeen(made);
  useEffect(() => {
    if (seen !== null && seen > 0) router.refresh();
  }, [seen, router]);
  const open = list === null || list.some(({ state }) => state === 'waiting' || state === 'running');
  useEffect(() => {
    if (!open) return;
    const first = setTimeout(() => void look(), 0);
    const again = setInterval(() => void look(), LOOK_EVERY_MS);
    return () => {
      clearTimeout(first);
      clearInterval(again);
    };
  }, [open, look]);
  const act = (method: 'POST' | 'DELETE', address: string, body?: object) =>
    void sendJson(method, address, body ?? {}).then(
      () => {
        setTrouble('');
        void look();
      },
      (error: Error) => setTrouble(error.message),
    );
  return {
    list,
    trouble,
    ask: (task) => act('POST', `/api/takes/${take}/tasks`, task),
    cancel: (id) => act('DELETE', `/api/takes/${take}/tasks/${id}`),
  };
}
