// The folded part in three dimensions. The mesh comes from the server; here it is only turned and lit.
import {
  AmbientLight, Box3, BufferAttribute, BufferGeometry, DirectionalLight, DoubleSide, Group, LineBasicMaterial,
  LineSegments, Mesh, MeshStandardMaterial, PerspectiveCamera, Scene, Vector3, WebGLRenderer,
} from "three";

function geometry(numbers) {
  const made = new BufferGeometry();
  made.setAttribute("position", new BufferAttribute(new Float32Array(numbers), 3));
  return made;
}

async function view(box) {
  let renderer;
  try { renderer = new WebGLRenderer({ antialias: true, alpha: true }); } catch { return; } // the still drawing stays
  const answer = await fetch(box.dataset.src);
  if (!answer.ok) return;
  const mesh = await answer.json();
  const faces = geometry(mesh.positions);
  faces.computeVertexNormals();
  const part = new Group();
  part.add(new Mesh(faces, new MeshStandardMaterial({ color: 0x9dbccb, metalness: 0.35, roughness: 0.5, side: DoubleSide })));
  part.add(new LineSegments(geometry(mesh.edges), new LineBasicMaterial({ color: 0x10293b })));
  const bounds = new Box3().setFromObject(part);
  const size = bounds.getSize(new Vector3()).length();
  part.position.copy(bounds.getCenter(new Vector3()).negate());
  const turntable = new Group();
  turntable.add(part);
  const scene = new Scene();
  const sun = new DirectionalLight(0xffffff, 2.2);
  sun.position.set(0.6, -0.8, 1.4);
  scene.add(turntable, new AmbientLight(0xffffff, 0.9), sun);
  const camera = new PerspectiveCamera(32, 1, size / 100, size * 10);
  camera.up.set(0, 0, 1);
  let around = -0.9, above = 0.5, over = 0;
  const draw = () => {
    renderer.setSize(box.clientWidth, box.clientHeight, false);
    camera.aspect = box.clientWidth / box.clientHeight;
    camera.updateProjectionMatrix();
    const far = size * 1.75;
    camera.position.set(far * Math.cos(above) * Math.cos(around), far * Math.cos(above) * Math.sin(around), far * Math.sin(above));
    camera.lookAt(0, 0, 0);
    turntable.rotation.x = over;
    renderer.render(scene, camera);
  };
  const canvas = renderer.domElement;
  canvas.setAttribute("role", "img");
  canvas.setAttribute("aria-label", "The folded part; drag to turn it");
  box.replaceChildren(canvas);
  let held = null;
  canvas.addEventListener("pointerdown", (event) => { held = [event.clientX, event.clientY]; canvas.setPointerCapture(event.pointerId); });
  canvas.addEventListener("pointerup", () => { held = null; });
  canvas.addEventListener("pointermove", (event) => {
    if (!held) return;
    around -= (event.clientX - held[0]) / 120;
    above = Math.max(-1.5, Math.min(1.5, above + (event.clientY - held[1]) / 120));
    held = [event.clientX, event.clientY];
    draw();
  });
  document.addEventListener("turn", (event) => { if (event.detail === "f") over += Math.PI; else around += Math.PI / 4; draw(); });
  new ResizeObserver(draw).observe(box);
  box.dataset.ready = "1";
}

for (const box of document.querySelectorAll(".folded")) view(box);
