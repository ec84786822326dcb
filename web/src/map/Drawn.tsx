import 'leaflet/dist/leaflet.css'
import type { FeatureCollection } from 'geojson'
import L from 'leaflet'
import { useEffect, useMemo } from 'react'
import { CircleMarker, GeoJSON, MapContainer, Marker, Polygon, Tooltip, useMap, useMapEvents } from 'react-leaflet'
import { useMap as useDrawn } from '../api/queries'

export type Town = { name: string; population: number; latitude: number; longitude: number }
export type Pin = { latitude: number; longitude: number }

type Props = {
  pin?: Pin | null
  label: string // for those who do not see it
  towns?: (Town & { within: boolean })[]
  outline?: number[][][] // rings of [longitude, latitude]
  height: number
  onPin?: (p: Pin) => void
  onTown?: (name: string) => void
}

const handle = L.divIcon({
  className: 'map-pin',
  iconSize: [22, 30],
  iconAnchor: [11, 29],
  html: '<svg viewBox="0 0 22 30" width="22" height="30" aria-hidden="true"><path d="M11 29 2 14a9.5 9.5 0 1 1 18 0z"/><circle cx="11" cy="10" r="3.4"/></svg>',
})

// Drawn is the map: coast, roads and towns as lines and shapes of our own, the
// pin, and an area. Nothing in it comes from elsewhere.
export default function Drawn({ pin: said, label, towns: asked, outline = [], height, onPin, onTown }: Props) {
  // Half a number is no place yet.
  const pin = said && Number.isFinite(said.latitude) && Number.isFinite(said.longitude) && Math.abs(said.latitude) <= 85 ? said : null
  const drawn = useDrawn().data as FeatureCollection | undefined
  const centre: [number, number] = pin ? [pin.latitude, pin.longitude] : middle(drawn)
  const towns = useMemo(() => asked ?? known(drawn), [asked, drawn])
  const named = useMemo(
    () =>
      new Set(
        [...towns]
          .sort((a, b) => b.population - a.population)
          .slice(0, 40)
          .map((t) => t.name),
      ),
    [towns],
  )
  if (!drawn) return <div className="map" style={{ height }} />
  return (
    <div className="map" role="application" aria-label={label} style={{ height }}>
      <MapContainer
        center={centre}
        zoom={pin ? 11 : 9}
        minZoom={4}
        maxZoom={17}
        zoomSnap={0.5}
        style={{ height: '100%' }}
        attributionControl={false}
      >
        <GeoJSON data={drawn} style={lines} filter={(f) => f.geometry.type !== 'Point'} interactive={false} />
        {outline.length > 0 && (
          <Polygon
            positions={outline.map((ring) => ring.map(([lng = 0, lat = 0]) => [lat, lng] as [number, number]))}
            className="map-area"
            weight={1.5}
            interactive={false}
          />
        )}
        {towns.map((t) => (
          <CircleMarker
            key={t.name + String(t.within)}
            center={[t.latitude, t.longitude]}
            radius={t.within ? 5.5 : 4}
            className={t.within ? 'map-town within' : 'map-town'}
            eventHandlers={{ click: () => onTown?.(t.name) }}
          >
            {named.has(t.name) && (
              <Tooltip
                permanent
                direction={pin && t.longitude < pin.longitude - 0.02 ? 'left' : 'right'}
                offset={pin && t.longitude < pin.longitude - 0.02 ? [-6, 0] : [6, 0]}
                className={'map-name' + (t.within ? ' within' : '')}
              >
                {t.name}
              </Tooltip>
            )}
          </CircleMarker>
        ))}
        {pin && (
          <Marker
            position={[pin.latitude, pin.longitude]}
            icon={handle}
            draggable={!!onPin}
            keyboard={!!onPin}
            title={onPin ? 'Drag the pin, or move it with the arrow keys' : undefined}
            eventHandlers={{
              dragend: (e) => onPin?.(rounded((e.target as L.Marker).getLatLng())),
              keydown: (e) => {
                const by = steps[(e.originalEvent as KeyboardEvent).key]
                if (!by || !onPin) return
                e.originalEvent.preventDefault()
                onPin(rounded(L.latLng(pin.latitude + by[0], pin.longitude + by[1])))
              },
            }}
          />
        )}
        {!pin && onPin && <PlacePin onPin={onPin} />}
        <Fit pin={pin} outline={outline} />
      </MapContainer>
    </div>
  )
}

// steps of the arrow keys: about ten metres.
const steps: Record<string, [number, number] | undefined> = {
  ArrowUp: [0.0001, 0],
  ArrowDown: [-0.0001, 0],
  ArrowLeft: [0, -0.00015],
  ArrowRight: [0, 0.00015],
}

const rounded = (p: L.LatLng): Pin => ({ latitude: Number(p.lat.toFixed(5)), longitude: Number(p.lng.toFixed(5)) })

const lines = (f?: { geometry: { type: string }; properties: { speed_kmh?: number; kind?: string } | null }) => {
  if (f?.properties?.speed_kmh) return { className: 'map-road', weight: f.properties.speed_kmh >= 80 ? 2.4 : 1.4 }
  if (f?.properties?.kind === 'border') return { className: 'map-border', weight: 1 }
  return { className: 'map-land', weight: 1 }
}

// known are the towns of the map itself, where none are in question.
const known = (drawn?: FeatureCollection) =>
  (drawn?.features ?? []).flatMap((f) =>
    f.geometry.type === 'Point'
      ? [
          {
            name: String(f.properties?.name),
            population: Number(f.properties?.population),
            latitude: f.geometry.coordinates[1] ?? 0,
            longitude: f.geometry.coordinates[0] ?? 0,
            within: false,
          },
        ]
      : [],
  )

function middle(drawn?: FeatureCollection): [number, number] {
  const at = drawn?.features.find((f) => f.geometry.type === 'Point')?.geometry
  return at?.type === 'Point' ? [at.coordinates[1] ?? 0, at.coordinates[0] ?? 0] : [0, 0]
}

// PlacePin puts the pin where the map is clicked, while there is none.
function PlacePin({ onPin }: { onPin: (p: Pin) => void }) {
  useMapEvents({ click: (e) => onPin(rounded(e.latlng)) })
  return null
}

// Fit shows all of the area when it changes its size, and follows a pin that left
// the view.
function Fit({ pin, outline }: { pin?: Pin | null; outline: number[][][] }) {
  const map = useMap()
  const box = useMemo(() => {
    const all = outline.flat().map(([lng = 0, lat = 0]) => L.latLng(lat, lng))
    return all.length > 0 ? L.latLngBounds(all) : undefined
  }, [outline])
  const size = box?.toBBoxString()
  useEffect(() => {
    if (box) map.fitBounds(box, { padding: [14, 14], animate: false })
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the same box again is no reason to move
  }, [map, size])
  useEffect(() => {
    if (pin && !map.getBounds().contains([pin.latitude, pin.longitude])) map.panTo([pin.latitude, pin.longitude], { animate: false })
  }, [map, pin])
  return null
}
