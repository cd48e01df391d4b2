// What the browser tells of hands: keys, wheel, a locked pointer, fingers.

/**
 * @param stage the picture, over which wheel, pointer and fingers act; @param state whose `asks` waits for another key of an
 * input; @param step called with 'undo' or 'redo'.
 */
function listenToHands(stage, bindings, state, step) {
  const typing = (event) => event.target.matches('textarea, select, input[type="text"], input[type="search"]');
  window.addEventListener('keydown', (event) => {
    if (state.asks) {
      event.preventDefault();
      if (event.code !== 'Escape') bindings.rebind(state.asks.input.name, event.code);
      state.asks.key.classList.remove('asks');
      state.asks = null;
      return;
    }
    if ((event.ctrlKey || event.metaKey) && !event.target.matches('textarea')) {
      if (event.code === 'KeyZ') { event.preventDefault(); step(event.shiftKey ? 'redo' : 'undo'); }
      if (event.code === 'KeyY') { event.preventDefault(); step('redo'); }
      return;
    }
    if (typing(event) || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.code === 'Tab' || (event.code === 'Enter' && event.target.matches('button'))) return;
    if (event.repeat) { if (!event.target.matches('input')) event.preventDefault(); return; }
    if (event.target.matches('input[type="range"]') && event.code.startsWith('Arrow')) return;
    if (bindings.key(event.code, true)) event.preventDefault();
  });
  window.addEventListener('keyup', (event) => { if (bindings.key(event.code, false)) event.preventDefault(); });
  window.addEventListener('blur', () => bindings.cancel());
  document.addEventListener('visibilitychange', () => { if (document.hidden) bindings.cancel(); state.last = undefined; });
  let turned = 0;
  stage.addEventListener('wheel', (event) => {
    event.preventDefault();
    turned -= event.deltaMode === 0 ? event.deltaY / 100 : Math.sign(event.deltaY);
    const whole = Math.trunc(turned);
    if (whole !== 0) { bindings.turnWheel(whole); turned -= whole; }
  }, { passive: false });
  stage.addEventListener('click', () => { stage.focus(); if (bindings.pointers.length > 0 && document.pointerLockElement !== stage) stage.requestPointerLock?.()?.catch?.(() => {}); });
  document.addEventListener('mousemove', (event) => { if (document.pointerLockElement === stage) bindings.movePointer(event.movementX, event.movementY); });
  // One finger is the pointer; another one on the picture changes nothing.
  let finger = null;
  const fingerOf = (event) => [...event.changedTouches].find((touch) => touch.identifier === finger?.identifier);
  stage.addEventListener('touchstart', (event) => { finger ??= event.changedTouches[0]; }, { passive: true });
  stage.addEventListener('touchmove', (event) => {
    const now = fingerOf(event);
    if (now) {
      bindings.movePointer(now.clientX - finger.clientX, now.clientY - finger.clientY);
      finger = now;
    }
    event.preventDefault();
  }, { passive: false });
  for (const end of ['touchend', 'touchcancel']) stage.addEventListener(end, (event) => { if (fingerOf(event)) finger = null; });
}
