// Each module looks after one thing that HTML alone cannot do.
import { watchEvents } from "./events.js";
import { watchKeys } from "./keys.js";
import { watchPicks } from "./picks.js";
import { watchPlayer } from "./player.js";
import { watchDrawers } from "./drawers.js";
import { watchNotices } from "./notices.js";
import { watchStrip } from "./strip.js";
import { watchDrops } from "./drops.js";
import { watchLists } from "./lists.js";
import { watchTidying } from "./tidy.js";
import { watchCopying } from "./copying.js";
import { watchUploads } from "./uploads.js";
import { askBefore } from "./questions.js";

watchEvents();
watchKeys();
watchPicks();
watchPlayer();
watchDrawers();
watchNotices();
watchStrip();
watchDrops();
watchLists();
watchTidying();
watchCopying();
watchUploads();
askBefore();
