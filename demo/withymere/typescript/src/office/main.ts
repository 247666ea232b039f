import { HireBoat } from '../craft/hire-boat.js';
import { Narrowboat } from '../craft/narrowboat.js';
import { Direction } from '../locks/lock-flight.js';
import { Rainfall } from '../water/rainfall.js';
import { SluiceController } from '../water/sluice-controller.js';
import { Office } from './office.js';
import { loadSettings } from './settings.js';

const settings = loadSettings(process.argv[2] ?? 'withymere.conf');
const rain = new Rainfall();
rain.add(4);
const gauges = [
  { reach: 'upper', floor: 1, read: () => 1.4 + rain.wetness() / 100 },
  { reach: 'lower', floor: 0.9, read: () => 1.1 },
];
const office = new Office(settings, gauges);
office.open(['keeper of Teasel Rise', 'keeper of Bulrush Steps']);
office.reader.sweep();
new SluiceController(office.levels, 'upper', 12).adjust(1.5);

const kingcup = new Narrowboat('Kingcup', { length: 17, beam: 2.1, draught: 0.7 }, 2);
const sedge = new HireBoat('Sedge', { length: 14, beam: 2.1, draught: 0.6 }, 4, 'H-204');
office.register.enter(kingcup);
office.register.enter(sedge);
office.desk.book({ craft: kingcup, flight: 'Teasel Rise', direction: Direction.Up, wantedAt: Date.now() });
office.desk.book({ craft: sedge, flight: 'Bulrush Steps', direction: Direction.Down, wantedAt: Date.now() + 60_000 });
console.log(`${office.desk.planDay('Teasel Rise')} slots, ${office.desk.pending()} waiting`);
office.window.sellPassage('Sedge', 'Bulrush Steps', 4.8);
void office.bridge.open();
console.log(`${office.bridge.name} is ${office.bridge.isOpen() ? 'open' : 'closed'}`);
console.log(office.close());
