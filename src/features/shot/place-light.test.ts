import { describe, expect, it } from 'vitest'
import { dot, normalize, subtract, type Vec3 } from '@/core/math/vec3'
import { directionFrom } from '@/core/scene/camera'
import { placementMatrix, type Placement } from '@/core/scene/placement'
import { anglesFor, highlightDirection, shadowDirection } from './place-light'
import { turnedPlacement } from './turned-subject'

const near = (a: Vec3, b: Vec3) => a.forEach((v, i) => expect(v).toBeCloseTo(b[i], 9))

describe('placing a light by what it does', () => {
  it('puts the highlight where it was pointed: half way between light and eye lies the normal', () => {
    const [point, eye]: Vec3[] = [
      [0.2, 1, 0.3],
      [3, 2, 5],
    ]
    const normal = normalize([0.3, 0.8, 0.6])
    const light = highlightDirection(point, normal, eye)
    const toEye = normalize(subtract(eye, point))
    near(normalize([light[0] + toEye[0], light[1] + toEye[1], light[2] + toEye[2]]), normal)
  })
  it('puts the shadow of one point on another', () => {
    const light = shadowDirection([0, 2, 0], [1, 0, 0])
    // From the landing towards the light one passes the thrower.
    expect(dot(light, normalize([-1, 2, 0]))).toBeCloseTo(1, 12)
  })
  it('counts angles from the camera for what is tied to it, from the world for what is not', () => {
    const direction = directionFrom(100, 20)
    expect(anglesFor({ tied: 'world' }, direction, 30)).toEqual({ azimuthDeg: 100, elevationDeg: 20 })
    expect(anglesFor({ tied: 'camera' }, direction, 30)).toEqual({ azimuthDeg: 70, elevationDeg: 20 })
    expect(anglesFor({ tied: 'camera' }, direction, -120).azimuthDeg).toBe(-140)
  })
})

describe('turning a subject', () => {
  it('turns about the vertical through a point, and a whole turn is none', () => {
    const placement: Placement = { position: [3, 1, 0], rotationDeg: [10, 20, 5], scale: [2, 2, 2] }
    const quarter = turnedPlacement(placement, 90, 1, 0)
    near(quarter.position, [1, 1, -2])
    expect(quarter.rotationDeg).toEqual([10, 110, 5])
    const whole = placementMatrix(turnedPlacement(placement, 360, 1, 0))
    placementMatrix(placement).forEach((v, i) => expect(whole[i]).toBeCloseTo(v, 9))
  })
})
