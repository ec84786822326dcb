import { Map } from '../../map/Map'
import { FactField } from '../Field'
import { useHeld } from '../held'
import { useReckoned } from './Area'
import { PhoneFields } from './PhoneFields'
import { AddressFields, Degrees } from './Place'
import { Prose } from './Words'

// PinMap shows the pin, lets it be dragged, and says when it stands in a doubtful place.
function PinMap() {
  const { record: r, set } = useHeld()
  const warnings = useReckoned(r)?.warnings ?? []
  return (
    <div className="w6 pin-map">
      <Map label="Map of the pin" height={220} pin={r.pin} onPin={(pin) => set({ pin })} />
      {r.pin ? (
        warnings.map((w) => (
          <p key={w} className="warn" role="status">
            {w}
          </p>
        ))
      ) : (
        <p className="second">Click where the location is, or type the coordinates.</p>
      )}
    </div>
  )
}

// Contact is where the location is and how it is reached. A client's own form
// has only what its locations may share.
export function Contact() {
  const { record: r, set, problems, shared } = useHeld()
  return (
    <>
      {shared && (
        <section className="sheet">
          <h2>Address and pin</h2>
          <div className="fields">
            <AddressFields path="address" address={r.address} problems={problems} onChange={(address) => set({ address })} />
            <Degrees pin={r.pin} problems={problems} onChange={(pin) => set({ pin })} />
            <FactField label="Time zone" path="zone" width="w2" placeholder="by the address" />
            <PinMap />
            <Prose label="Directions" path="directions" rows={2} limit={500} help="How to find it, in words." />
            <Prose label="Parking" path="parking" rows={2} limit={500} />
          </div>
        </section>
      )}
      <section className="sheet">
        <h2>Contact</h2>
        <div className="fields">
          {shared && (
            <PhoneFields phones={r.phones} country={r.address.country} problems={problems} onChange={(phones) => set({ phones })} />
          )}
          <FactField label="Email" path="email" width="w3" type="email" />
          <FactField label="Website" path="website" width="w3" type="url" placeholder="https://" />
        </div>
      </section>
      {shared && (
        <section className="sheet">
          <h2>Post</h2>
          <p className="second">For postcards; never published. Empty: the address above.</p>
          <div className="fields">
            <FactField label="Name on the envelope" path="mailing.contact" width="w6" />
            <AddressFields
              path="mailing.address"
              address={r.mailing.address}
              problems={problems}
              onChange={(address) => set({ mailing: { ...r.mailing, address } })}
            />
          </div>
        </section>
      )}
    </>
  )
}
