export {
  AmbientLight, Box3, Color, DirectionalLight, HemisphereLight, MOUSE, PerspectiveCamera, Raycaster, Scene, SRGBColorSpace,
  Vector2, Vector3, WebGLRenderer, RepeatWrapping,
} from "three";
export { GLTFLoader } from "three/addons/loaders/GLTFLoader.js";
