// The folded part in three dimensions. The mesh comes from the server; here it is only turned, lit, cut and
// pointed at: distances, angles and sections are worked out by the server.
import {
  AmbientLight, Box3, BufferAttribute, BufferGeometry, DirectionalLight, DoubleSide, Group, LineBasicMaterial,
  LineSegments, Mesh, MeshStandardMaterial, PerspectiveCamera, Plane, Raycaster, Scene, Vector2, Vector3, WebGLRenderer,
} from "three";

const METAL = [0.34, 0.5, 0.6], SPARED = [0.66, 0.5, 0.2], PICKED = [0.77, 0.47, 0.1], WRONG = [0.62, 0.09, 0.05];

function geometry(numbers) {
  const made = new BufferGeometry();
  made.setAttribute("position", new BufferAttribute(new Float32Array(numbers), 3));
  return made;
}

// Which triangles belong to which face, in the order the server wrote them, and which of these are the good side: those
// on the top stand first, those beneath after them.
function owners(mesh) {
  let at = 0;
  return mesh.faces.map(([id, count, top, beneath]) => {
    const from = at, under = at + top;
    const good = { up: [from, under], down: [under, under + beneath] }[mesh.good] || [0, 0];
    return { id, from, to: (at += count), good };
  });
}

function paint(solid, rows, picked, wrong) {
  const colour = solid.getAttribute("color");
  for (const { id, from, to, good } of rows) {
    const marked = picked.includes(id) && id ? PICKED : wrong.includes(id) ? WRONG : null;
    for (let corner = from * 3; corner < to * 3; corner += 1) {
      colour.setXYZ(corner, ...(marked || (corner >= good[0] * 3 && corner < good[1] * 3 ? SPARED : METAL)));
    }
  }
  colour.needsUpdate = true;
}

async function view(box) {
  let renderer;
  try { renderer = new WebGLRenderer({ antialias: true, alpha: true }); } catch { return; } // the still drawing stays
  const answer = await fetch(box.dataset.src);
  if (!answer.ok) return;
  const mesh = await answer.json();
  const rows = owners(mesh);
  const solid = geometry(mesh.positions);
  solid.setAttribute("color", new BufferAttribute(new Float32Array(mesh.positions.length), 3));
  solid.computeVertexNormals();
  const metal = new MeshStandardMaterial({ // a hair behind its own edges, which would be broken up by it else
    vertexColors: true, metalness: 0.35, roughness: 0.5, side: DoubleSide, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1,
  });
  const line = new LineBasicMaterial({ color: 0x10293b });
  const body = new Mesh(solid, metal);
  const part = new Group();
  part.add(body, new LineSegments(geometry(mesh.edges), line));
  const bounds = new Box3().setFromObject(part);
  const whole = bounds.getSize(new Vector3()).length();
  const middle = bounds.getCenter(new Vector3());
  part.position.copy(middle).negate();
  const turntable = new Group();
  turntable.add(part);
  const scene = new Scene();
  const sun = new DirectionalLight(0xffffff, 3);
  sun.position.set(0.6, -0.8, 1.4);
  scene.add(turntable, new AmbientLight(0xffffff, 0.9), sun);
  const camera = new PerspectiveCamera(32, 1, whole / 200, whole * 10);
  camera.up.set(0, 0, 1);
  let around = -0.9, above = 0.5, over = 0, far = 1.75, target = new Vector3(), picked = [];
  const draw = () => {
    renderer.setSize(box.clientWidth, box.clientHeight, false);
    camera.aspect = box.clientWidth / box.clientHeight;
    camera.updateProjectionMatrix();
    const way = new Vector3(Math.cos(above) * Math.cos(around), Math.cos(above) * Math.sin(around), Math.sin(above));
    turntable.rotation.x = over;
    turntable.updateMatrixWorld();
    const focus = turntable.localToWorld(target.clone());
    camera.position.copy(focus).addScaledVector(way, whole * far);
    camera.lookAt(focus);
    renderer.render(scene, camera);
  };
  const repaint = () => { paint(solid, rows, picked, mesh.conflicts || []); draw(); };

  const canvas = renderer.domElement;
  canvas.setAttribute("role", "img");
  canvas.setAttribute("aria-label", "The folded part; drag to turn it");
  box.replaceChildren(canvas);
  const fingers = new Map();
  let moved = 0;
  const spread = () => { const [a, b] = [...fingers.values()]; return Math.hypot(a[0] - b[0], a[1] - b[1]); };
  canvas.addEventListener("pointerdown", (event) => {
    fingers.set(event.pointerId, [event.clientX, event.clientY]);
    canvas.setPointerCapture(event.pointerId);
    moved = 0;
  });
  const lift = (event) => {
    if (fingers.delete(event.pointerId) && moved < 4 && event.type === "pointerup") point(event);
  };
  canvas.addEventListener("pointerup", lift);
  canvas.addEventListener("pointercancel", lift);
  canvas.addEventListener("pointermove", (event) => {
    const held = fingers.get(event.pointerId);
    if (!held) return;
    const before = fingers.size === 2 ? spread() : 0;
    const [dx, dy] = [event.clientX - held[0], event.clientY - held[1]];
    fingers.set(event.pointerId, [event.clientX, event.clientY]);
    moved += Math.hypot(dx, dy);
    if (before) far = Math.min(4, Math.max(0.12, far * before / Math.max(1, spread())));
    else { around -= dx / 120; above = Math.max(-1.5, Math.min(1.5, above + dy / 120)); }
    draw();
  });
  if (box.classList.contains("large")) canvas.addEventListener("wheel", (event) => {
    event.preventDefault();
    far = Math.min(4, Math.max(0.12, far * Math.exp(event.deltaY / 600)));
    draw();
  }, { passive: false });

  // The face pointed at goes into the form that measures: the last two picked.
  const form = document.querySelector("form.pick");
  const point = (event) => {
    const frame = canvas.getBoundingClientRect();
    const at = new Vector2(((event.clientX - frame.left) / frame.width) * 2 - 1, 1 - ((event.clientY - frame.top) / frame.height) * 2);
    const ray = new Raycaster();
    ray.setFromCamera(at, camera);
    const cutAway = (hit) => metal.clippingPlanes?.some((plane) => plane.distanceToPoint(hit.point) < 0);
    const hit = ray.intersectObject(body).find((found) => !cutAway(found));
    const face = hit && rows.find(({ from, to }) => hit.faceIndex >= from && hit.faceIndex < to)?.id;
    if (!face || !form) return;
    picked = [...picked, face].slice(-2);
    form.elements.one.value = picked[0];
    form.elements.other.value = picked.at(-1);
    repaint();
    if (picked.length === 2) form.dispatchEvent(new Event("picked"));
  };
  form?.addEventListener("change", () => { picked = [form.elements.one.value, form.elements.other.value]; repaint(); });

  // The section that was asked for, cut in space as well: told by its axis and how far in it lies.
  document.addEventListener("htmx:afterSettle", (event) => {
    const made = event.target.id === "section" && event.target.querySelector("[data-axis]");
    if (!made) return;
    const axis = { x: 0, y: 1, z: 2 }[made.dataset.axis];
    const normal = new Vector3().setComponent(axis, axis === 1 ? 1 : -1);
    const knife = new Plane(normal, -normal.getComponent(axis) * Number(made.dataset.at));
    metal.clippingPlanes = line.clippingPlanes = [knife.applyMatrix4(part.matrixWorld)];
    renderer.localClippingEnabled = true;
    draw();
  });
  document.addEventListener("click", (event) => {
    const near = event.target.closest("[data-near]");
    if (!near) return;
    const row = rows.find(({ id }) => id && id === near.dataset.near);
    if (!row) metal.clippingPlanes = line.clippingPlanes = null;
    const spot = new Box3();
    if (row) for (let n = row.from * 3; n < row.to * 3; n += 1) spot.expandByPoint(new Vector3().fromBufferAttribute(solid.getAttribute("position"), n));
    target = row ? spot.getCenter(new Vector3()).sub(middle) : new Vector3();
    far = row ? Math.max(0.2, (1.6 * spot.getSize(new Vector3()).length()) / whole) : 1.75;
    draw();
  });
  document.addEventListener("turn", (event) => { if (event.detail === "f") over += Math.PI; else around += Math.PI / 4; draw(); });
  new ResizeObserver(draw).observe(box);
  repaint();
  box.dataset.ready = "1";
}

const shown = new WeakMap();
function views() {
  for (const box of document.querySelectorAll(".folded")) {
    if (shown.get(box) === box.dataset.src) continue;
    shown.set(box, box.dataset.src);
    view(box);
  }
}
document.addEventListener("htmx:afterSettle", views);
views();
