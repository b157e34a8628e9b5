/**
 * The device that a show means. Browsers give devices other ids in every profile and on every computer: a show that was
 * brought in, or opened elsewhere, knows it by its name.
 *
 * @param deviceId as the show has it; empty for the default one
 * @param label as the device was called when it was chosen
 * @param here devices of this computer; without a permission they have no names
 * @returns the id to ask for; the one that was given when neither id nor name is here, so that its absence is told as such
 */
export function matchDevice(
  deviceId: string,
  label: string,
  here: readonly { deviceId: string; label: string }[],
): string {
  if (deviceId === '' || label === '' || here.some((device) => device.deviceId === deviceId)) return deviceId;
  return here.find((device) => plainLabel(device.label) === plainLabel(label))?.deviceId ?? deviceId;
}

/** A device's name without the numbers that some browsers put behind it. */
const plainLabel = (label: string) => label.replace(/ \([0-9a-f:]+\)$/, '').trim();

/** As `matchDevice`, among the devices that are there now. */
export async function deviceHere(
  kind: 'videoinput' | 'audioinput',
  deviceId: string,
  label: string,
): Promise<string> {
  if (deviceId === '') return deviceId;
  const devices = await navigator.mediaDevices.enumerateDevices();
  return matchDevice(
    deviceId,
    label,
    devices.filter((device) => device.kind === kind),
  );
}
