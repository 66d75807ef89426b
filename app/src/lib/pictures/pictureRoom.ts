import { getContext, setContext } from 'svelte';

const ROOM = Symbol('room of a picture');
type Room = (ownPx: number) => number;

/** Tells the pictures below how high they are, given the height that each asks for. */
export const giveRoom = (room: Room) => setContext(ROOM, room);

/** How high a picture is that asks for so many pixels: that, unless it is enlarged. */
export const roomOf = (): Room => getContext<Room | undefined>(ROOM) ?? ((ownPx) => ownPx);
