// Shows a furniture file (GLB) that can be turned by hand: what the server has worked out, seen from anywhere.
// Used by inTheRound, with three.js loaded before it. Nothing is worked out here but the view.
window.turntable = (canvas, context, { onPress, onTurn }) => {
  const three = window.THREE;
  const renderer = new three.WebGLRenderer({ canvas, context, antialias: true, alpha: true });
  renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
  const scene = new three.Scene();
  const camera = new three.PerspectiveCamera(24, 1, 0.05, 40);
  const light = new three.DirectionalLight(0xfff4e2, 2.1);
  scene.add(new three.HemisphereLight(0xffffff, 0xa8977a, 1.5), light, light.target);
  const at = { turn: -38, high: 22, zoom: 1 };
  const middle = new three.Vector3();
  let size = 1;
  let model = null;
  let isWanted = false;
  let tones = {};
  let isLoosened = false;
  const YELLOW = new three.Color(0xecc452);

  const draw = () => {
    isWanted = false;
    if (!canvas.isConnected) return;
    const turn = (at.turn * Math.PI) / 180;
    const high = (at.high * Math.PI) / 180;
    const far = ((size * 2.4) / at.zoom) * Math.max(1, 0.72 / camera.aspect); // narrow stages are seen from farther off
    camera.position.set(
      middle.x + far * Math.sin(turn) * Math.cos(high),
      middle.y + far * Math.sin(high),
      middle.z + far * Math.cos(turn) * Math.cos(high),
    );
    camera.lookAt(middle);
    light.position.set(-0.5, 0.75, 0.6).applyQuaternion(camera.quaternion).multiplyScalar(4).add(middle);
    light.target.position.copy(middle);
    renderer.render(scene, camera);
  };
  const want = () => {
    if (!isWanted) requestAnimationFrame(draw);
    isWanted = true;
  };
  const fit = () => {
    const { clientWidth: wide, clientHeight: tall } = canvas.parentElement;
    if (!wide || !tall) return;
    renderer.setSize(wide, tall, false);
    camera.aspect = wide / tall;
    camera.updateProjectionMatrix();
    want();
  };
  new ResizeObserver(fit).observe(canvas.parentElement);

  const turnTo = (view) => {
    Object.assign(at, { turn: view.turn, high: view.high, zoom: 1 });
    loosen(view.loosened);
    onTurn?.(at);
    want();
  };
  const turnBy = (turn, high) => {
    at.turn += turn;
    at.high = Math.max(-80, Math.min(85, at.high + high));
    onTurn?.(at);
    want();
  };
  const zoomBy = (share) => {
    at.zoom = Math.max(0.6, Math.min(5, at.zoom * share));
    want();
  };
  const loosen = (now) => {
    isLoosened = Boolean(now);
    model?.traverse((each) => {
      if (each.userData.loose) each.position.z = isLoosened ? size * 0.75 : 0;
    });
    look();
  };
  // what is off is bare, what is in a tone is painted in it
  const paint = () => {
    model?.traverse((each) => {
      if (!each.isMesh) return;
      const data = dataOf(each);
      const key = data.panel ?? data.bare ?? data.trim;
      const tone = tones[key];
      const isOff = tone === "off" || data.off;
      if (data.panel || data.trim) each.visible = !isOff;
      if (data.bare) each.visible = Boolean(isOff);
      const isLit = tone === "next" || tone === "lit";
      if (!each.userData.own) {
        each.material = each.material.clone();
        each.userData.own = true;
      }
      each.material.emissive?.copy(isLit ? YELLOW : new three.Color(0));
      each.material.emissiveIntensity = tone === "next" ? 0.65 : 0.38;
    });
    want();
  };
  const dataOf = (each) => ({ ...each.parent?.userData, ...each.userData });
  const look = () => {
    if (!model) return;
    const box = new three.Box3().setFromObject(model);
    box.getCenter(middle);
    size = box.getSize(new three.Vector3()).length() * (isLoosened ? 0.92 : 1);
    want();
  };

  const fingers = new Map();
  let gone = 0;
  let apart = 0;
  canvas.addEventListener("pointerdown", (event) => {
    canvas.setPointerCapture(event.pointerId);
    fingers.set(event.pointerId, [event.clientX, event.clientY]);
    gone = 0;
    apart = 0;
  });
  canvas.addEventListener("pointermove", (event) => {
    const before = fingers.get(event.pointerId);
    if (!before) return;
    const moved = [event.clientX - before[0], event.clientY - before[1]];
    fingers.set(event.pointerId, [event.clientX, event.clientY]);
    gone += Math.hypot(...moved);
    if (fingers.size === 2) {
      const [a, b] = [...fingers.values()];
      const now = Math.hypot(a[0] - b[0], a[1] - b[1]);
      if (apart) zoomBy(now / apart);
      apart = now;
      return;
    }
    turnBy(-moved[0] * 0.4, moved[1] * 0.3);
  });
  const let_go = (event) => {
    if (fingers.delete(event.pointerId) && event.type === "pointerup" && gone < 6) pressed(event);
  };
  canvas.addEventListener("pointerup", let_go);
  canvas.addEventListener("pointercancel", let_go);
  canvas.addEventListener(
    "wheel",
    (event) => {
      event.preventDefault();
      zoomBy(event.deltaY < 0 ? 1.1 : 1 / 1.1);
    },
    { passive: false },
  );
  const pressed = (event) => {
    const { left, top, width, height } = canvas.getBoundingClientRect();
    const spot = new three.Vector2(((event.clientX - left) / width) * 2 - 1, 1 - ((event.clientY - top) / height) * 2);
    const ray = new three.Raycaster();
    ray.setFromCamera(spot, camera);
    const met = model ? ray.intersectObject(model, true).find((each) => each.object.visible) : null;
    const data = met ? dataOf(met.object) : {};
    onPress?.(data.panel ?? data.bare ?? data.trim ?? "");
  };

  const load = async (address) => {
    const answer = await fetch(address);
    if (!answer.ok || answer.redirected) throw new Error(await answer.text());
    const file = await new three.GLTFLoader().parseAsync(await answer.arrayBuffer(), "");
    if (model) scene.remove(model);
    model = file.scene;
    model.traverse((each) => {
      const map = each.isMesh && each.material.map;
      if (map) map.anisotropy = 8;
    });
    scene.add(model);
    loosen(isLoosened);
    paint();
    fit();
    draw();
  };
  return {
    load, turnTo, turnBy, zoomBy, fit,
    setTones: (now) => {
      tones = now;
      paint();
    },
    turnLike: (other) => {
      Object.assign(at, { turn: other.turn, high: other.high });
      draw();
    },
    at,
  };
};
