/** Every text of the guest's page. */
export const WORDS = {
  title: 'Guest',
  invites: (show: string) => `You are a guest of ${show}`,
  forSeat: (seat: string) => `Your place: ${seat}`,
  asking: 'Your browser asks for camera and microphone. Allow both; nobody sees or hears you yet.',
  camera: 'Camera',
  microphone: 'Microphone',
  name: 'Your name',
  headphones: 'I wear headphones',
  headphonesHint:
    'With headphones there is no echo, and your voice stays as it is. Nothing is seen or heard by viewers until the host brings you on.',
  relay: 'Do not show my network address to the host',
  ready: 'I am ready',
  again: 'Try again',
  connection: (ms: number) =>
    ms < 120
      ? `Connection good: ${ms} ms.`
      : ms < 300
        ? `Connection usable: ${ms} ms.`
        : `Connection slow: ${ms} ms.`,
  noName: 'Write the name you want to be called by.',
  level: {
    silent: 'nothing to hear',
    quiet: 'quiet: come nearer',
    good: 'good',
    loud: 'too loud',
  },
  inWings: 'In the wings',
  broughtOn: 'You are on',
  onAir: 'You are on air',
  offAirOn: 'You are on; the show is not on air',
  seen: 'Viewers see you',
  heardOnly: 'Viewers hear you; you are not in the picture',
  at: (time: string, name: string) => `on at ${time}, ${name}`,
  sees: 'What viewers see.',
  hearsAll: 'You hear the programme without yourself.',
  hearsWings: 'You hear the others who wait here, and the host when they talk to you.',
  hearsOn: 'You hear everybody but yourself.',
  talk: 'The host talks to you; viewers do not hear it.',
  others: (names: string[]) => `Also here: ${names.join(', ')}`,
  muteMe: 'Mute me',
  cameraOff: 'Camera off',
  hand: 'Raise a hand',
  leave: 'Leave',
  cut: 'No connection to the studio. Connecting again…',
  deskAway: 'The host’s page is away. Stay here: you are reconnected automatically.',
  connecting: 'Connecting picture and sound…',
  lost: 'Picture and sound were lost. Connecting again…',
  noWay:
    'Picture and sound find no way through your network. Try another network, or ask the host for a relay.',
  replaced: 'You opened this page somewhere else: it continues there.',
  noDevices:
    'This browser gives no camera and no microphone here: open the link over https, or in another browser.',
  device: {
    NotAllowedError: 'Camera and microphone were not allowed: allow them in the address bar, then try again.',
    NotFoundError: 'No camera or microphone was found: plug one in, then try again.',
    NotReadableError: 'Another program uses the camera or the microphone: close it, then try again.',
    other: (why: string) => `Camera and microphone cannot be opened: ${why}`,
  },
  onlySound: 'No camera: you are heard and not seen.',
  onlyPicture: 'No microphone: you are seen and not heard.',
  noCamera: 'without a camera',
  noMicrophone: 'without a microphone',
} as const;
