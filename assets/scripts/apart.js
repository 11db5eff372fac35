// Pages of who is not signed in yet, with a form to fill in: what was typed outlasts a lost connection there too.

import { watchDrafts } from "./drafts.js";

watchDrafts();
