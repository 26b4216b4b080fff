import * as THREE from 'three'

/** Instance columns as the shader reads them: position, turn (quaternion), size per axis. */
const INSTANCE_HEAD = `
attribute vec3 instancePosition;
attribute vec4 instanceTurn;
attribute vec3 instanceSize;
attribute vec4 instanceTint;
varying vec3 instanceColour;
vec3 turnBy(vec4 q, vec3 v) { return v + 2.0 * cross(q.xyz, cross(q.xyz, v) + q.w * v); }
`

/** Makes a material place its geometry by the instance columns. */
export function placedByColumns<M extends THREE.Material>(material: M): M {
  const depth = material instanceof THREE.MeshDepthMaterial
  material.onBeforeCompile = (shader) => {
    // Leaves are lit alike from both sides: their normals tell where the plant faces, not the blade.
    if (material.side === THREE.DoubleSide)
      shader.fragmentShader = shader.fragmentShader.replace(
        '#include <normal_fragment_begin>',
        '#include <normal_fragment_begin>\nnormal = normalize(vNormal);',
      )
    if (!depth)
      shader.fragmentShader = ('varying vec3 instanceColour;\n' + shader.fragmentShader).replace(
        '#include <color_fragment>',
        '#include <color_fragment>\ndiffuseColor.rgb *= instanceColour;',
      )
    shader.vertexShader = INSTANCE_HEAD + shader.vertexShader
      .replace('#include <beginnormal_vertex>', '#include <beginnormal_vertex>\nobjectNormal = turnBy(instanceTurn, objectNormal / instanceSize);')
      // Tints are 0xRRGGBBAA, whose bytes come last first; stored as people see them, worked with linear.
      .replace(
        '#include <begin_vertex>',
        'instanceColour = pow(instanceTint.wzy, vec3(2.2));\nvec3 transformed = instancePosition + turnBy(instanceTurn, position * instanceSize);',
      )
  }
  material.customProgramCacheKey = () => `columns-${material.type}-${material.side}`
  return material
}

/** A lighter material of the same look: matt, with the colours, maps and cut-outs of the original. */
export function displayMaterial(source: THREE.Material, hasColours: boolean): THREE.MeshLambertMaterial {
  const standard = source as THREE.MeshStandardMaterial
  return placedByColumns(
    new THREE.MeshLambertMaterial({
      color: standard.color ?? new THREE.Color(1, 1, 1),
      map: standard.map ?? null,
      normalMap: standard.normalMap ?? null,
      emissive: standard.emissive ?? new THREE.Color(0, 0, 0),
      emissiveMap: standard.emissiveMap ?? null,
      alphaTest: source.transparent || source.alphaTest > 0 ? Math.max(source.alphaTest, 0.35) : 0,
      side: source.side,
      vertexColors: hasColours,
    }),
  )
}

/** The shadow twin of a display material. */
export function shadowMaterial(source: THREE.MeshLambertMaterial): THREE.MeshDepthMaterial {
  return placedByColumns(
    new THREE.MeshDepthMaterial({
      depthPacking: THREE.RGBADepthPacking,
      map: source.alphaTest > 0 ? source.map : null,
      alphaTest: source.alphaTest,
      side: source.side,
    }),
  )
}

/** A tiling grey texture of soft specks, for ground seen from near. */
function speckTexture(): THREE.DataTexture {
  const side = 128
  const data = new Uint8Array(4 * side * side)
  let state = 9
  const next = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 4294967296
  const noise = Float32Array.from({ length: side * side }, next)
  const soft = (x: number, y: number, r: number) => {
    let sum = 0
    for (let j = -r; j <= r; j++)
      for (let i = -r; i <= r; i++) sum += noise[((y + j + side) % side) * side + ((x + i + side) % side)]
    return sum / (2 * r + 1) ** 2
  }
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const v = 0.5 + 2.4 * (soft(x, y, 4) - 0.5) + 0.9 * (soft(x, y, 1) - 0.5)
      const at = 4 * (y * side + x)
      data[at] = data[at + 1] = data[at + 2] = Math.max(0, Math.min(255, Math.round(v * 255)))
      data[at + 3] = 255
    }
  const texture = new THREE.DataTexture(data, side, side)
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping
  texture.minFilter = THREE.LinearMipmapLinearFilter
  texture.magFilter = THREE.LinearFilter
  texture.generateMipmaps = true
  texture.needsUpdate = true
  return texture
}

/** What is shown as colour on the ground: weights 0…255 of square cells, row by row from the north. */
export interface GroundTint {
  readonly side: number
  readonly weights: Uint8Array<ArrayBuffer>
  readonly sizeX: number
  readonly sizeZ: number
}

/**
 * The colour that low plants give the ground when they are too far away to be drawn one by one: a map
 * over the terrain of the share that they cover and their mean colour there.
 */
export interface GroundCover {
  readonly side: number
  /** r g b as roots of linear shares, and the covered share, 0…255; row by row from the north. */
  readonly bytes: Uint8Array<ArrayBuffer>
}

/** Where nothing is taken the ground fades to grey; where all is, it takes this colour. */
export const TINT_COLOUR = new THREE.Color(0xff6a1f)

export interface GroundMaterial {
  readonly material: THREE.MeshLambertMaterial
  setTint(tint: GroundTint | null): void
  /** Shows where a planting stands that is too small to be seen, in its own colour; null shows none. */
  setMark(mark: { readonly side: number; readonly weights: Uint8Array<ArrayBuffer> } | null, colour: string, sizeX: number, sizeZ: number): void
  /** Colours far ground by what grows low on a terrain of the given size. */
  setCover(cover: GroundCover, sizeX: number, sizeZ: number): void
  /** Frees the material and all its maps. */
  dispose(): void
}

/** Between these distances what grows low goes over from single plants to a colour of the ground, m. */
const COVER_FADE = new THREE.Vector2(25, 120)

/** Ground: vertex colours, broken up by specks at two scales; under a tint when there is one. */
export function groundMaterial(): GroundMaterial {
  const material = new THREE.MeshLambertMaterial({ vertexColors: true })
  const nothing = tintTexture(new Uint8Array(1), 1)
  const uniforms = {
    specks: { value: speckTexture() },
    tintMap: { value: nothing },
    tintSize: { value: new THREE.Vector2(1, 1) },
    markMap: { value: nothing as THREE.DataTexture },
    markSize: { value: new THREE.Vector2(1, 1) },
    markColour: { value: new THREE.Color(1, 1, 1) },
    markShare: { value: 0 },
    tintShare: { value: 0 },
    tintColour: { value: TINT_COLOUR },
    coverMap: { value: coverTexture({ side: 1, bytes: new Uint8Array(4) }) },
    coverSize: { value: new THREE.Vector2(1, 1) },
    coverFade: { value: COVER_FADE },
  }
  material.onBeforeCompile = (shader) => {
    Object.assign(shader.uniforms, uniforms)
    shader.vertexShader = ('varying vec2 groundPlan;\n' + shader.vertexShader).replace(
      '#include <begin_vertex>',
      '#include <begin_vertex>\ngroundPlan = position.xz;',
    )
    shader.fragmentShader = (
      'varying vec2 groundPlan;\nuniform sampler2D specks;\nuniform sampler2D tintMap;\nuniform vec2 tintSize;\nuniform float tintShare;\nuniform vec3 tintColour;\nuniform sampler2D coverMap;\nuniform vec2 coverSize;\nuniform vec2 coverFade;\nuniform sampler2D markMap;\nuniform vec2 markSize;\nuniform vec3 markColour;\nuniform float markShare;\n' +
      shader.fragmentShader
    ).replace(
      '#include <color_fragment>',
      `#include <color_fragment>
       float fine = texture2D(specks, groundPlan * 0.45).r;
       float broad = texture2D(specks, groundPlan * 0.037).r;
       diffuseColor.rgb *= 0.5 + 0.62 * fine + 0.38 * broad;
       vec4 cover = texture2D(coverMap, groundPlan / coverSize + 0.5);
       float coverShare = cover.a * smoothstep(coverFade.x, coverFade.y, length(vViewPosition));
       diffuseColor.rgb = mix(diffuseColor.rgb, cover.rgb * cover.rgb * (0.7 + 0.5 * broad), coverShare);
       if (markShare > 0.0) {
         float mark = texture2D(markMap, groundPlan / markSize + 0.5).r;
         diffuseColor.rgb = mix(diffuseColor.rgb, markColour * (0.55 + 0.6 * fine), mark * markShare);
       }
       if (tintShare > 0.0) {
         float taken = texture2D(tintMap, groundPlan / tintSize + 0.5).r;
         float grey = dot(diffuseColor.rgb, vec3(0.3, 0.55, 0.15));
         diffuseColor.rgb = mix(diffuseColor.rgb, mix(vec3(0.35 * grey + 0.02), tintColour * (0.35 + 1.3 * grey), taken), tintShare);
       }`,
    )
  }
  return {
    material,
    setTint(tint) {
      if (uniforms.tintMap.value !== nothing) uniforms.tintMap.value.dispose()
      uniforms.tintMap.value = tint ? tintTexture(tint.weights, tint.side) : nothing
      uniforms.tintShare.value = tint ? 0.85 : 0
      if (tint) uniforms.tintSize.value.set(tint.sizeX, tint.sizeZ)
    },
    setMark(mark, colour, sizeX, sizeZ) {
      if (uniforms.markMap.value !== nothing) uniforms.markMap.value.dispose()
      uniforms.markMap.value = mark ? tintTexture(mark.weights, mark.side) : nothing
      uniforms.markShare.value = mark ? 0.8 : 0
      if (!mark) return
      uniforms.markColour.value.set(colour)
      uniforms.markSize.value.set(sizeX, sizeZ)
    },
    setCover(cover, sizeX, sizeZ) {
      uniforms.coverMap.value.dispose()
      uniforms.coverMap.value = coverTexture(cover)
      uniforms.coverSize.value.set(sizeX, sizeZ)
    },
    dispose() {
      for (const { value } of [uniforms.specks, uniforms.tintMap, uniforms.markMap, uniforms.coverMap, { value: nothing }]) value.dispose()
      material.dispose()
    },
  }
}

function coverTexture({ bytes, side }: GroundCover): THREE.DataTexture {
  const texture = new THREE.DataTexture(bytes, side, side, THREE.RGBAFormat)
  texture.minFilter = THREE.LinearMipmapLinearFilter
  texture.magFilter = THREE.LinearFilter
  texture.generateMipmaps = true
  texture.needsUpdate = true
  return texture
}

function tintTexture(weights: Uint8Array<ArrayBuffer>, side: number): THREE.DataTexture {
  const texture = new THREE.DataTexture(weights, side, side, THREE.RedFormat)
  texture.minFilter = texture.magFilter = THREE.LinearFilter
  texture.unpackAlignment = 1
  texture.needsUpdate = true
  return texture
}

export const SKY = {
  zenith: new THREE.Color(0x5f9bd6),
  horizon: new THREE.Color(0xdfe8e6),
  sun: new THREE.Color(0xfff0d2),
  /** Towards the sun: a low afternoon sun in the west-south-west. */
  toSun: new THREE.Vector3(-0.62, 0.56, 0.48).normalize(),
}

/** The sky: a dome with a hazy horizon and a glow around the sun. */
export function createSky(): THREE.Mesh {
  const material = new THREE.ShaderMaterial({
    side: THREE.BackSide,
    depthWrite: false,
    depthTest: false,
    fog: false,
    uniforms: {
      zenith: { value: SKY.zenith },
      horizon: { value: SKY.horizon },
      sun: { value: SKY.sun },
      toSun: { value: SKY.toSun },
    },
    vertexShader: `
      varying vec3 direction;
      void main() {
        direction = position;
        gl_Position = projectionMatrix * mat4(mat3(viewMatrix)) * vec4(position, 1.0);
        gl_Position.z = gl_Position.w * 0.9999;
      }`,
    fragmentShader: `
      varying vec3 direction;
      uniform vec3 zenith; uniform vec3 horizon; uniform vec3 sun; uniform vec3 toSun;
      void main() {
        vec3 d = normalize(direction);
        float up = clamp(d.y, 0.0, 1.0);
        vec3 colour = mix(horizon, zenith, 1.0 - pow(1.0 - up, 2.6));
        float near = max(dot(d, toSun), 0.0);
        colour += sun * (0.2 * pow(near, 6.0) + 0.5 * pow(near, 160.0));
        gl_FragColor = vec4(colour, 1.0);
        #include <colorspace_fragment>
      }`,
  })
  const sky = new THREE.Mesh(new THREE.SphereGeometry(1, 24, 16), material)
  sky.frustumCulled = false
  sky.renderOrder = -10
  return sky
}

/** Still water: sees the sky at a glancing eye, the mud below at a steep one, with a glint of sun. */
export function createWater(): THREE.Mesh {
  const material = new THREE.ShaderMaterial({
    transparent: true,
    depthWrite: false,
    fog: true,
    uniforms: THREE.UniformsUtils.merge([
      THREE.UniformsLib.fog,
      {
        zenith: { value: SKY.zenith },
        horizon: { value: SKY.horizon },
        sun: { value: SKY.sun },
        toSun: { value: SKY.toSun },
        specks: { value: null },
      },
    ]),
    vertexShader: `
      varying vec3 place;
      #include <fog_pars_vertex>
      void main() {
        vec4 world = modelMatrix * vec4(position, 1.0);
        place = world.xyz;
        vec4 mvPosition = viewMatrix * world;
        gl_Position = projectionMatrix * mvPosition;
        #include <fog_vertex>
      }`,
    fragmentShader: `
      varying vec3 place;
      uniform vec3 zenith; uniform vec3 horizon; uniform vec3 sun; uniform vec3 toSun;
      uniform sampler2D specks;
      #include <fog_pars_fragment>
      void main() {
        vec3 eye = cameraPosition - place;
        float far = length(eye);
        eye /= far;
        float calm = 0.16 / (1.0 + far * 0.02);
        vec2 ripple = (vec2(texture2D(specks, place.xz * 0.11).r, texture2D(specks, place.zx * 0.13 + 0.37).r) - 0.5)
          + 0.6 * (vec2(texture2D(specks, place.xz * 0.53).r, texture2D(specks, place.zx * 0.61).r) - 0.5);
        vec3 n = normalize(vec3(ripple.x * calm, 1.0, ripple.y * calm));
        float facing = clamp(dot(eye, n), 0.0, 1.0);
        float fresnel = 0.03 + 0.97 * pow(1.0 - facing, 5.0);
        vec3 bounced = reflect(-eye, n);
        float up = clamp(bounced.y, 0.0, 1.0);
        vec3 sky = mix(horizon, zenith, 1.0 - pow(1.0 - up, 2.6)) * 0.92;
        vec3 deep = vec3(0.06, 0.105, 0.095);
        float glint = pow(max(dot(bounced, toSun), 0.0), 220.0);
        gl_FragColor = vec4(mix(deep, sky, fresnel) + sun * glint * 1.2, mix(0.62, 0.98, fresnel));
        #include <colorspace_fragment>
        #include <fog_fragment>
      }`,
  })
  material.uniforms.specks.value = speckTexture()
  const water = new THREE.Mesh(new THREE.PlaneGeometry(1, 1).rotateX(-Math.PI / 2), material)
  water.renderOrder = 5
  return water
}
