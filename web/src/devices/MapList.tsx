import type { Device } from '@loka/contract/devices';
import type { RegisterMap } from '@loka/contract/registers';
import { Link } from 'react-router';

/** The register maps that Loka has, and which devices are made from each. */
export function MapList({ maps, devices }: { maps: RegisterMap[]; devices: Device[] }) {
  return (
    <div style={{ marginTop: 22 }}>
      <h1>Register maps</h1>
      <ul style={{ listStyle: 'none', margin: '4px 0', padding: 0 }}>
        {maps.map((map) => (
          <li key={map.id} style={{ padding: '3px 0' }}>
            <Link to={`/field/map/${map.id}${map.deviceIds[0] ? `?device=${map.deviceIds[0]}` : ''}`}>
              {map.name}
            </Link>
            <div className="muted">
              {map.deviceIds.length === 0
                ? 'no device'
                : devices
                    .filter((d) => map.deviceIds.includes(d.id))
                    .map((d) => d.name)
                    .join(', ')}
            </div>
          </li>
        ))}
      </ul>
    </div>
  );
}
