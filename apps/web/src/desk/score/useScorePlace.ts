/** Where in the score one is: pages are gone to, and followed while it plays. */
import { barId, noteheadId } from '@crispfold/core';
import { type RefObject, useCallback, useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { useStore } from 'react-redux';
import { useAppDispatch, useDesk } from '../session/desk.js';
import { selectMeterMap } from '../state/maps.js';
import { selectView } from '../state/rollSelectors.js';
import { type RootState, useAppSelector } from '../state/root.js';
import { selectedOnView } from '../state/selectors.js';
import { said } from '../state/speechSlice.js';
import type { LaidScore } from './useScore.js';

/** The bar under the playhead while it plays; null while it rests. */
const usePlayingBar = (): number | null => {
  const { player } = useDesk();
  const meterMap = useAppSelector(selectMeterMap);
  // The playhead moves with each frame; the view is drawn anew with each bar.
  return useSyncExternalStore(player.state.subscribe, () => {
    const { playing, tick } = player.state.get();
    return playing ? meterMap.barAt(tick).number : null;
  });
};

/** The size of an element as it is now. */
export const useSize = () => {
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 800, height: 600 });
  useEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const observer = new ResizeObserver(() => setSize({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return { box, ...size };
};

/** The element that what is sought first has on its page: the selected note, else the first bar on view. */
const soughtFirst = (state: RootState): string => {
  const [note] = selectedOnView(state);
  if (note) return noteheadId({ noteId: note.id, piece: 1 }, 0);
  return barId(selectMeterMap(state).barAt(Math.max(0, selectView(state).left)).number);
};

const soFar = ({ pages, whole }: LaidScore): string => `${pages}${whole ? '' : ' so far'}`;

/** See the file's head; `box` holds the pages. */
export const useScorePlace = (box: RefObject<HTMLDivElement | null>, laid: LaidScore, height: number) => {
  const { score } = useDesk();
  const dispatch = useAppDispatch();
  const store = useStore<RootState>();
  const follow = useAppSelector(({ looking }) => looking.seeing.follow);
  const playingBar = usePlayingBar();
  const [page, setPage] = useState(1);
  const goTo = useCallback(
    (number: number, say = true) => {
      const to = Math.max(1, Math.min(laid.pages, number));
      box.current?.querySelector(`[data-page="${to}"]`)?.scrollIntoView({ block: 'start' });
      setPage(to);
      if (say) dispatch(said(`Page ${to} of ${soFar(laid)}.`));
    },
    [laid, box, dispatch],
  );

  // It opens where one was, and takes the keys.
  const opened = useRef(false);
  useEffect(() => {
    if (opened.current || laid.layout === 0) return;
    if (laid.whole) opened.current = true;
    box.current?.focus();
    void score.pageOf(soughtFirst(store.getState())).then((number) => {
      if (number === 0) return;
      opened.current = true;
      goTo(number, false);
      dispatch(said(`Score view, page ${number} of ${soFar(laid)}.`));
    });
  }, [laid, store, goTo, box, dispatch, score]);

  // The page of the playing bar comes into view.
  useEffect(() => {
    if (playingBar === null || !follow) return;
    void score.pageOf(barId(playingBar)).then((number) => {
      const target = box.current?.querySelector(`[id="${barId(playingBar)}"]`) ?? null;
      if (target) target.scrollIntoView({ block: 'nearest' });
      else if (number > 0) goTo(number, false);
    });
  }, [playingBar, follow, goTo, box, score]);

  const onScroll = () => {
    const pages = [...(box.current?.querySelectorAll<HTMLElement>('[data-page]') ?? [])];
    const top = (box.current?.scrollTop ?? 0) + height / 3;
    const now = pages.filter(({ offsetTop }) => offsetTop <= top).pop();
    if (now) setPage(Number(now.dataset.page));
  };
  return { page, goTo, onScroll, playingBar };
};
