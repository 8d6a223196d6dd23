import type { Room } from './room';
import { bedroom } from './rooms/bedroom';
import { boatHall } from './rooms/boatHall';
import { causeway, causewayBumped } from './rooms/causeway';
import { grainLoft } from './rooms/grainLoft';
import { hoistStair } from './rooms/hoistStair';
import { kitchen } from './rooms/kitchen';
import { office } from './rooms/office';
import { pilotsRoom } from './rooms/pilotsRoom';
import { rehearsalLoft, rehearsalLoftAside } from './rooms/rehearsalLoft';
import { ropeStore } from './rooms/ropeStore';
import { sittingRoom, sittingRoomAside } from './rooms/sittingRoom';
import { slipHall } from './rooms/slipHall';
import { washHouse } from './rooms/washHouse';
import { visitedRooms } from './visitors';

/*
 * The demo house: Saltpan Tide Mill, 3 Causeway Lane, Merrow Creek; let by Heron & Quay, agents. An old tide
 * mill turned into a home. Everything about it is made up.
 */

const EMPTY_ROOMS: readonly Room[] = [
  sittingRoom, kitchen, sittingRoomAside, grainLoft, washHouse, boatHall, bedroom,
  hoistStair, rehearsalLoft, rehearsalLoftAside, pilotsRoom, ropeStore, causeway, causewayBumped, slipHall, office,
];

export const ROOMS: readonly Room[] = [...EMPTY_ROOMS, ...visitedRooms((name) => EMPTY_ROOMS.find((r) => r.name === name)!)];
