// The sheet: what is typed, dragged and clicked becomes a change that is sent at once, one
// after the other; the server answers with the parts of the page that are different now.
// Here the pieces are put together; each says what it does.
import { handleActs } from "./acts.js";
import { bringParts, goTo } from "./bringing.js";
import { openColumns } from "./columns.js";
import { handleDisputes } from "./disputes.js";
import { handleExpectations } from "./expect.js";
import { fields, fieldAt, grow, tell } from "./fields.js";
import { offerFillins } from "./fillin.js";
import { keepFresh } from "./fresh.js";
import { handleFinding } from "./find.js";
import { handleFolding } from "./folding.js";
import { handleKeys } from "./keys.js";
import { openLedger } from "./ledger.js";
import { handleLeaving } from "./left.js";
import { handleMany } from "./many.js";
import { handleMoving } from "./moving.js";
import { hearNews } from "./news.js";
import { gone, notice, stalled } from "./notice.js";
import { cellOf, handlePath } from "./path.js";
import { handlePicks } from "./picks.js";
import { handlePictures } from "./pictures.js";
import { offerReady } from "./ready.js";
import { handleRuler } from "./ruler.js";
import { handleNames } from "./renaming.js";
import { keepSending } from "./sending.js";
import { lightThreads } from "./threads.js";
import { handleTyping } from "./typing.js";

/**
 * Returns what the markup and its components may ask for, as stores of Alpine.
 *
 * @param {HTMLElement} desk
 */
export function openSheet(desk) {
  const base = `/studio/quizzes/${desk.dataset.quiz}`;
  const sending = keepSending(base, Number(desk.dataset.revision), {
    applied: (update) => page.applied(update),
    refused,
    stalled: (status, message) => stalled(base, status, message),
    gather: () => flush(),
    shown: () => desk.dataset.shown,
    fellBehind: (...what) => disputes.fellBehind(...what),
  });
  const flush = handleTyping(sending);
  const columns = openColumns(desk);
  const picks = handlePicks({ sending, flush });
  const fold = handleFolding();
  const moving = handleMoving({ sending, flush, picks, lead: (item) => page.lead(item) });
  const page = bringParts({
    desk,
    sending,
    sortable: moving.sortable,
    after() {
      columns.show();
      fold();
      picks.show();
      fresh();
      dispatchEvent(new Event("brought"));
    },
  });
  const fresh = keepFresh({ sending });
  const disputes = handleDisputes({ sending, applied: page.applied, settle: page.settle });
  const act = handleActs({ sending, flush, goTo, move: moving.move });
  const ledger = openLedger({ sending, notice, flush });
  handlePath({ sending, flush });
  offerReady({ sending, flush });
  offerFillins();
  const finding = handleFinding({ sending, flush, goTo });
  handlePictures({ sending, flush });
  handleNames({ sending, flush });
  handleKeys({ act, move: moving.move, flush, sending, ledger });
  handleRuler(desk, (path, value) => sending.change(path, value));
  handleExpectations((path, value) => sending.change(path, value));
  document.querySelectorAll(fields).forEach(grow);
  document.querySelectorAll("[data-list]").forEach(moving.sortable);
  lightThreads();
  handleLeaving({ quiz: desk.dataset.quiz, sending, flush, choose: disputes.choose })();
  hear(desk, base, sending);
  return { sheet: { sending, flush }, picks, many: handleMany(), ...finding };

  // refused says at its field why a change was not kept. What was typed stays.
  function refused(message, path, done) {
    const cell = done?.do === "cells" && cellOf(done);
    const field = path && fieldAt(path);
    if (cell) tell(cell, message);
    else if (path && !field) {
      gone(sending.typed(path) ?? "");
      sending.forget(path);
    } else if (field) tell(field, message);
    else notice(message);
  }
}

/** A sheet that is only looked at. @param {HTMLElement} desk */
export function lookAtSheet(desk) {
  openColumns(desk);
  document.querySelectorAll(fields).forEach(grow);
  lightThreads();
}

// hear asks for what differs when the quiz is changed or released elsewhere.
function hear(desk, base, sending) {
  let released = Number(desk.dataset.released);
  hearNews(`${base}/news`, {
    stands(news) {
      if (released !== news.released) sending.look();
      released = news.released;
      sending.stands(news.revision);
    },
    gone: sending.look,
    refused: sending.look,
  });
}
