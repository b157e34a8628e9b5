/** Texts of where viewers' words and events come from. */
export const enAudience = {
  chatServer: {
    title: 'Chat server',
    name: 'Name in the list',
    nameLong: 'At most 40 letters.',
    host: 'Host',
    hostWrong: 'Enter a name like irc.example.org, without an address scheme.',
    port: 'Port',
    portWrong: 'Enter a number from 1 to 65535; 6697 is usual with TLS.',
    tls: 'Encrypted (TLS)',
    nick: 'Nickname',
    nickWrong: 'Begin with a letter, without spaces, at most 30 letters.',
    channels: 'Channels',
    channelsHint: 'Separate several by spaces.',
    channelsWrong: 'Enter channels like #night-signal-box.',
    password: 'Password (may be empty)',
    newPassword: 'New password (empty keeps the old one)',
    required: 'Enter something here.',
    cancel: 'Cancel',
    connect: 'Connect',
  },
} as const;
