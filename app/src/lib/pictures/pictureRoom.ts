import { getContext, setContext } from 'svelte';

const ROOM = Symbol('room of a picture');
type Room = (ownPx: number) => number;

/** Sets the heights of the pictures inside, given the height that each asks for. */
export const giveRoom = (room: Room) => setContext(ROOM, room);

/** The height of a picture in pixels: the one it asks for, unless it is enlarged. */
export const roomOf = (): Room => getContext<Room | undefined>(ROOM) ?? ((ownPx) => ownPx);
