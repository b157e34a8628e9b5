import AddRounded from '@mui/icons-material/AddRounded';
import BackHandRounded from '@mui/icons-material/BackHandRounded';
import MicOffRounded from '@mui/icons-material/MicOffRounded';
import Button from '@mui/material/Button';
import MenuItem from '@mui/material/MenuItem';
import { useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { Link } from 'react-router';
import { GUEST_LAYOUTS, guestScene, newSeat } from '~/core/guests/guest-scene';
import { seatsOf, type SeatRecord } from '~/core/guests/seats';
import { recordsOf } from '~/core/show/document';
import type { Press } from '~/core/commands/commands';
import type { GuestLink } from '~/engine/guests/room-engine';
import { MAX_WORDS, type GuestNow, type GuestOrder } from '~/protocol/guest';
import { ActionMenu } from '../sound/action-menu';
import { LevelAndMute } from '../sound/level-and-mute';
import { useBus, useDesk, useDocument, useStudio } from '../studio/studio-context';
import { useTranslation } from '../words/words';
import { MISBEHAVIOURS } from './made-up-guests';
import { InviteButton } from './invite-dialog';

const newId = () => crypto.randomUUID();

/** Seats of the show and who sits there; those who wait without one; links for more. */
export function GuestsPanel() {
  const document = useDocument();
  const { store } = useStudio();
  const { t } = useTranslation();
  const guests = useBus((now) => now.guests);
  const seats = seatsOf(document);
  const waiting = guests.filter(({ seatId }) => !seats.some(({ id }) => id === seatId));
  const add = () => store.edit(t('guests.addSeat'), newSeat(store.document(), newId));
  return (
    <div className="guests">
      {seats.length === 0 && waiting.length === 0 && <p className="quiet">{t('guests.empty')}</p>}
      {seats.map((seat) => (
        <SeatRow key={seat.id} seat={seat} guest={guests.find(({ seatId }) => seatId === seat.id) ?? null} />
      ))}
      {waiting.length > 0 && <h3>{t('guests.withoutSeat')}</h3>}
      {waiting.map((guest) => (
        <WaitingRow key={guest.id} guest={guest} seats={seats} />
      ))}
      {guests.length > 0 && <NoHeadphones />}
      <div className="guests-more">
        <Button startIcon={<AddRounded />} onClick={add}>
          {t('guests.addSeat')}
        </Button>
        <InviteButton seat={null} />
        {seats.length > 0 && <LayoutMenu seats={seats} />}
        {seats.length > 0 && <TalkButton label={t('guests.talkWings')} params={{}} />}
        {seats.length > 0 && <ListenButton />}
        <MadeUpButton />
      </div>
    </div>
  );
}

function useOrder(guestId: string) {
  const { bus } = useStudio();
  return (order: GuestOrder) => bus.say({ type: 'guestOrder', guestId, order });
}

function SeatRow({ seat, guest }: { seat: SeatRecord; guest: GuestNow | null }) {
  const { control, say } = useStudio();
  const { t } = useTranslation();
  const document = useDocument();
  const on = useDesk((now) => now.programme.seatsOn.includes(seat.id));
  const channel = recordsOf(document, 'channel').find(
    ({ source }) => source.type === 'input' && source.inputId === seat.id,
  );
  const bring = () =>
    void control
      .press({ command: 'bringOn', params: { seatId: seat.id, on: !on } }, 'page')
      .then((problem) => problem && say(problem));
  return (
    <section
      className="seat"
      data-on={on}
      aria-label={seat.name}
      onDragOver={(event) => event.dataTransfer.types.includes(DRAGGED) && event.preventDefault()}
      onDrop={(event) => {
        const guestId = event.dataTransfer.getData(DRAGGED);
        if (guestId)
          control.parts.bus.say({ type: 'guestOrder', guestId, order: { do: 'seat', seatId: seat.id } });
      }}
    >
      <div className="seat-top">
        {guest ? <GuestPicture guest={guest} /> : <div className="seat-picture">{t('guests.nobody')}</div>}
        <div className="seat-words">
          <b className="one-line">{guest?.name ?? seat.name}</b>
          {guest && <span className="quiet one-line">{seat.name}</span>}
          {guest && <GuestState guest={guest} on={on} />}
        </div>
      </div>
      {guest && channel && (
        <div className="seat-sound">
          <LevelAndMute channel={channel} />
        </div>
      )}
      {guest?.here && <WordsField guest={guest} />}
      <div className="seat-buttons">
        <Button className="bring-on" aria-pressed={on} onClick={bring} disabled={!guest && !on}>
          {on ? t('guests.takeOff') : t('guests.bringOn')}
        </Button>
        {guest ? (
          <>
            <TalkButton label={t('guests.talk')} params={{ seatId: seat.id }} />
            <GuestMenu guest={guest} />
          </>
        ) : (
          <InviteButton seat={seat} />
        )}
      </div>
    </section>
  );
}

/** What is dragged onto a seat. */
const DRAGGED = 'application/x-dolomite-guest';

function WaitingRow({ guest, seats }: { guest: GuestNow; seats: readonly SeatRecord[] }) {
  const order = useOrder(guest.id);
  const { t } = useTranslation();
  return (
    <section
      className="seat"
      aria-label={guest.name}
      draggable
      onDragStart={(event) => event.dataTransfer.setData(DRAGGED, guest.id)}
    >
      <div className="seat-top">
        <GuestPicture guest={guest} />
        <div className="seat-words">
          <b className="one-line">{guest.name}</b>
          <GuestState guest={guest} on={false} />
        </div>
      </div>
      <div className="seat-buttons">
        <ActionMenu label={t('guests.seatFor', { name: guest.name })} words={t('guests.putOnSeat')}>
          {(close) =>
            seats.length === 0 ? (
              <MenuItem disabled>{t('guests.noSeat')}</MenuItem>
            ) : (
              seats.map(({ id, name }) => (
                <MenuItem
                  key={id}
                  onClick={() => {
                    close();
                    order({ do: 'seat', seatId: id });
                  }}
                >
                  {name}
                </MenuItem>
              ))
            )
          }
        </ActionMenu>
        <GuestMenu guest={guest} />
      </div>
      {guest.here && <WordsField guest={guest} />}
    </section>
  );
}

/** Short words that stand on the guest's page. */
function WordsField({ guest }: { guest: GuestNow }) {
  const { t } = useTranslation();
  const order = useOrder(guest.id);
  const [text, setText] = useState('');
  return (
    <form
      className="guest-words"
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim() !== '') order({ do: 'words', text: text.trim() });
        setText('');
      }}
    >
      <input
        value={text}
        onChange={(event) => setText(event.target.value)}
        aria-label={t('guests.wordsTo', { name: guest.name })}
        placeholder={t('guests.words')}
        maxLength={MAX_WORDS}
      />
    </form>
  );
}

/** What their page sends, for the host's eyes alone. */
function GuestPicture({ guest }: { guest: GuestNow }) {
  const { t } = useTranslation();
  const stream = useDesk((now) => now.guests.get(guest.id)?.stream ?? null);
  const video = useRef<HTMLVideoElement>(null);
  useEffect(() => {
    if (video.current) video.current.srcObject = stream;
  }, [stream]);
  return (
    <div className="seat-picture" data-off={guest.cameraOff || !guest.here}>
      {/* Heard through the mixer, never from here. */}
      <video
        ref={video}
        autoPlay
        muted
        playsInline
        aria-label={t('guests.pictureOf', { name: guest.name })}
      />
    </div>
  );
}

function GuestState({ guest, on }: { guest: GuestNow; on: boolean }) {
  const { t } = useTranslation();
  const link = useDesk((now) => now.guests.get(guest.id));
  const words = stateOf(guest, link);
  return (
    <span className="seat-state" data-trouble={words !== 'good'}>
      {guest.hand && <BackHandRounded titleAccess={t('guests.hand')} />}
      {guest.muted && <MicOffRounded titleAccess={t('guests.mutedThemselves')} />}
      {guest.problem ??
        (words === 'good' ? t(on ? 'guests.isOn' : 'guests.inWings') : t(`guests.state.${words}`))}
      {link?.roundTripMs != null && words === 'good' && (
        <span className="figure"> {t('guests.roundTrip', { ms: link.roundTripMs })}</span>
      )}
    </span>
  );
}

/** Of what comes from them, lost in the last second: more is heard. */
const BAD_LOSS = 0.05;

function stateOf(
  { here, cameraOff }: GuestNow,
  link: GuestLink | undefined,
): 'away' | 'connecting' | 'frozen' | 'lost' | 'weak' | 'cameraOff' | 'good' {
  if (!here) return 'away';
  if (!link || link.state === 'connecting') return 'connecting';
  if (link.state === 'lost' || link.state === 'frozen') return link.state;
  if (link.loss > BAD_LOSS) return 'weak';
  return cameraOff ? 'cameraOff' : 'good';
}

/** Held, as a talk key is: with the pointer, or with Space or Enter. */
function TalkButton({ label, params }: { label: string; params: Press['params'] }) {
  const { control } = useStudio();
  const { t } = useTranslation();
  const to = (params.seatId as string | undefined) ?? 'wings';
  const talking = useDesk((now) => now.sound.switches.talk) === to;
  const held = useRef(false);
  const press = (down: boolean) => {
    if (held.current === down) return;
    held.current = down;
    void control.press({ command: 'talk', params }, 'page', down);
  };
  return (
    <Button
      className={talking ? 'talking' : undefined}
      aria-pressed={talking}
      title={t('guests.talkHint')}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        press(true);
      }}
      onPointerUp={() => press(false)}
      onPointerCancel={() => press(false)}
      onKeyDown={(event) => {
        if (event.key !== ' ' && event.key !== 'Enter') return;
        event.preventDefault();
        press(true);
      }}
      onKeyUp={(event) => (event.key === ' ' || event.key === 'Enter') && press(false)}
      onBlur={() => press(false)}
    >
      {label}
    </Button>
  );
}

function GuestMenu({ guest }: { guest: GuestNow }) {
  const { t } = useTranslation();
  const { madeUp } = useStudio();
  const order = useOrder(guest.id);
  return (
    <ActionMenu label={t('guests.more', { name: guest.name })} words="⋯">
      {(close) => [
        ...(guest.seatId === null
          ? []
          : [
              <MenuItem
                key="stand"
                onClick={() => {
                  close();
                  order({ do: 'seat', seatId: null });
                }}
              >
                {t('guests.offSeat')}
              </MenuItem>,
            ]),
        ...(madeUp.has(guest.id)
          ? MISBEHAVIOURS.map((how) => (
              <MenuItem
                key={how}
                onClick={() => {
                  close();
                  madeUp.misbehave(guest.id, how);
                }}
              >
                {t(`guests.madeUp.${how}`)}
              </MenuItem>
            ))
          : []),
        <MenuItem
          key="remove"
          onClick={() => {
            close();
            order({ do: 'remove' });
          }}
        >
          {t('guests.remove')}
        </MenuItem>,
      ]}
    </ActionMenu>
  );
}

/** Whether the host's headphones have those who wait. */
function ListenButton() {
  const { t } = useTranslation();
  const { desk } = useStudio();
  const listen = useDesk((now) => now.sound.switches.listen);
  return (
    <Button
      aria-pressed={listen}
      title={t('guests.listenHint')}
      onClick={() => desk.sound.setSwitches({ listen: !listen })}
    >
      {t('guests.listen')}
    </Button>
  );
}

/** Without headphones the host hears nobody. */
function NoHeadphones() {
  const { t } = useTranslation();
  const none = useDesk((now) => now.sound.switches.monitor.deviceId === null);
  if (!none) return null;
  return (
    <p className="quiet">
      {t('guests.noHeadphones')} <Link to="../sound">{t('guests.chooseHeadphones')}</Link>
    </p>
  );
}

/** Two who are made up come and go with it. */
function MadeUpButton() {
  const { t } = useTranslation();
  const { madeUp } = useStudio();
  const here = useSyncExternalStore(madeUp.subscribe, madeUp.here);
  return (
    <Button aria-pressed={here} title={t('guests.madeUp.hint')} onClick={() => void madeUp.toggle()}>
      {t('guests.madeUp.name')}
    </Button>
  );
}

function LayoutMenu({ seats }: { seats: readonly SeatRecord[] }) {
  const { t } = useTranslation();
  const { store, say } = useStudio();
  return (
    <ActionMenu label={t('guests.makeScene')} words={t('guests.makeScene')}>
      {(close) =>
        GUEST_LAYOUTS.map((layout) => (
          <MenuItem
            key={layout}
            onClick={() => {
              close();
              const records = guestScene(store.document(), layout, seats, newId);
              store.edit(t('guests.makeScene'), records);
              say(t('guests.sceneMade', { name: records[0].name }));
            }}
          >
            {t(`guests.layout.${layout}`)}
          </MenuItem>
        ))
      }
    </ActionMenu>
  );
}
