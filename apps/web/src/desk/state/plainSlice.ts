/**
 * A slice whose reducers work on the state itself, without Immer: it would look at every one of tens of thousands of notes,
 * through drafts and to freeze them. Each reducer answers a new state and changes none.
 */
import {
  type CreateSliceOptions,
  createSlice,
  type Reducer,
  type SliceCaseReducers,
  type UnknownAction,
} from '@reduxjs/toolkit';

/** An action of another slice, and what it means here. */
type Other<State> = readonly [type: string, reduce: (state: State, payload: never) => State];

/** Says what an action of another slice means here. */
export const when = <State, Payload>(
  action: { readonly type: string; (payload: Payload): unknown },
  reduce: (state: State, payload: Payload) => State,
): Other<State> => [action.type, reduce as Other<State>[1]];

type Cases<State> = { readonly [name: string]: ((state: State, action: never) => State) | undefined };

/** The slice, its reducer in the place of Redux Toolkit's own. */
export const plainSlice = <State, Reducers extends SliceCaseReducers<State>, Name extends string>(
  options: CreateSliceOptions<State, Reducers, Name>,
  others: readonly Other<State>[] = [],
) => {
  const slice = createSlice(options);
  const own = slice.caseReducers as unknown as Cases<State>;
  const alien = new Map(others);
  const initial = slice.getInitialState();
  const reducer: Reducer<State> = (state = initial, action: UnknownAction) => {
    const [of, name = ''] = action.type.split('/');
    const reduce = of === options.name ? own[name] : undefined;
    if (reduce) return reduce(state, action as never);
    return alien.get(action.type)?.(state, action.payload as never) ?? state;
  };
  return { actions: slice.actions, reducer };
};
