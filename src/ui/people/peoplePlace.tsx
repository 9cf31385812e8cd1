'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useCallback, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { PeopleAnswer } from '../../archive';
import type { PeopleRequest, PersonRequest } from '../../shared/requests';
import { api } from '../parts/api';
import { type Command, useCommands } from '../parts/commands';
import { Empty, Trouble } from '../parts/empty';
import { Shell } from '../parts/shell';
import { FaceGrid } from './faceGrid';
import { PairReview } from './pairReview';
import { PersonDetail } from './personDetail';
import { PersonList, SINGLE } from './personList';
import { inOrder, type PeopleActions } from './actions';

/** Milliseconds between looks while pictures are looked at. */
const WATCH_MS = 1500;

/** The people of a collection: who they are, all pictures of each, and what has to be asked. */
export function PeoplePlace({ id }: { id: string }) {
  const queries = useQueryClient();
  const { data, error } = useQuery({
    queryKey: ['people', id],
    queryFn: () => api<PeopleAnswer>(`collections/${id}/people`),
    refetchInterval: (query) => ((query.state.data?.share ?? 1) < 1 ? WATCH_MS : false),
  });
  const [chosen, setChosen] = useState<string>();
  const [asking, setAsking] = useState(false);
  const last = useRef<Promise<unknown>>(Promise.resolve());
  const actions = useMemo((): PeopleActions => {
    const sent = async (path: string, init: RequestInit & { json: unknown }): Promise<boolean> => {
      try {
        queries.setQueryData(['people', id], await api<PeopleAnswer>(path, init));
        return true;
      } catch (e) {
        toast.error((e as Error).message);
        return false;
      }
    };
    // One after another: each is said of what the one before left.
    const keep = (path: string, init: RequestInit & { json: unknown }): Promise<boolean> => {
      const kept = last.current.then(() => sent(path, init));
      last.current = kept;
      return kept;
    };
    return {
      say: (json: PeopleRequest) => keep(`collections/${id}/people`, { method: 'POST', json }),
      tell: (person: string, json: PersonRequest) => keep(`collections/${id}/people/${person}`, { method: 'PATCH', json }),
    };
  }, [queries, id]);
  const undo = useCallback(() => {
    // What was just done may still be on its way.
    void last.current.then(() => {
      if (queries.getQueryData<PeopleAnswer>(['people', id])?.undo !== undefined) void actions.say({ action: 'undo' });
    });
  }, [actions, queries, id]);
  useCommands(
    useMemo(
      (): Command[] => [
        { id: 'people-undo', name: 'Take the last change back', group: 'People', keys: ['ctrl+z'], shown: 'Ctrl Z', run: undo },
      ],
      [undo],
    ),
  );
  const person = data?.persons.find((p) => p.id === chosen) ?? (chosen === SINGLE ? undefined : inOrder(data?.persons ?? []).at(0));
  const questions = data?.questions ?? [];
  const nobody = data?.share === 1 && data.persons.length === 0 && data.single.length === 0;
  return (
    <Shell
      trail={
        <>
          <h1 className="max-w-[22em] shrink-0 truncate text-[15px]">{data?.collection.name ?? '…'}</h1>
          <Link href={`/collections/${id}`} className="shrink-0 text-ink2 hover:text-ink">
            its pictures
          </Link>
        </>
      }
      actions={
        <button type="button" className="btn shrink-0" disabled={data?.undo === undefined} title={data?.undo} onClick={undo}>
          Take back <kbd className="key">Ctrl Z</kbd>
        </button>
      }
    >
      <div role="status" className="flex min-h-[34px] shrink-0 items-center gap-3 border-b px-[14px]">
        {data && (
          <span className="tabular-nums">
            {data.persons.length} persons, {data.persons.reduce((sum, p) => sum + p.faces.length, data.single.length)} faces
          </span>
        )}
        {data && data.share < 1 && (
          <span className="text-ink2 tabular-nums">{Math.round(100 * data.share)} % of the pictures looked at</span>
        )}
        {data && data.films > 0 && (
          <span className="flex items-center gap-2 text-ink2 tabular-nums">
            {data.films} {data.films === 1 ? 'film is' : 'films are'} not looked through
            <button
              type="button"
              className="btn"
              title="Faces are followed through each shot. It takes about as long as the films last, and goes on by itself."
              onClick={() => void actions.say({ action: 'films' })}
            >
              Look through {data.films === 1 ? 'it' : 'them'}
            </button>
          </span>
        )}
        {data?.problem && <span className="min-w-0 truncate text-warn">{data.problem}</span>}
        <span className="flex-1" />
        {questions.length > 0 && (
          <button type="button" className="btn" aria-pressed={asking} onClick={() => setAsking(!asking)}>
            {questions.length} {questions.length === 1 ? 'pair is' : 'pairs are'} unsure
          </button>
        )}
      </div>
      <main className="flex min-h-0 flex-1">
        <Trouble error={error} />
        {nobody && <Empty title="Nobody was found.">What was looked at of this collection shows no faces that could be told apart.</Empty>}
        {data && !nobody && (
          <>
            <PersonList
              persons={data.persons}
              single={data.single}
              chosen={asking ? undefined : chosen === SINGLE ? SINGLE : person?.id}
              choose={(next) => {
                setAsking(false);
                setChosen(next);
              }}
            />
            <section className="min-w-0 flex-1 overflow-auto" aria-label={asking ? 'Unsure pairs' : 'Person'}>
              {asking && questions.length > 0 ? (
                <PairReview people={data} actions={actions} />
              ) : chosen === SINGLE || !person ? (
                <div className="px-[14px] py-3">
                  <p className="mb-3 max-w-[46em] text-ink2">
                    Faces that are like no other. Choose some to make a person of them, or take out what is nobody that matters.
                  </p>
                  <FaceGrid faces={data.single} persons={data.persons} actions={actions} />
                </div>
              ) : (
                <PersonDetail key={person.id} person={person} persons={data.persons} actions={actions} />
              )}
            </section>
          </>
        )}
      </main>
    </Shell>
  );
}
