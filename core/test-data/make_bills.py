"""Bills of an invented home by hourly imports and exports, computed apart from the application: python3 make_bills.py > bills.json

Needs Python 3.9 and its zone data, nothing else. Rules: a window, its months and its days are those of the local hour; later lines stand over
earlier ones; a block counts the import of the billing month in order of time; demand is the highest clock-aligned window; net metering
credits at the bill's mean import rate and settles what is left with the bill of the settling month; tax lies on all.
"""
import json
from datetime import date, datetime, timedelta, timezone
from zoneinfo import ZoneInfo

ZONE = ZoneInfo('Europe/Madrid')
START = datetime(2024, 2, 29, 23, tzinfo=timezone.utc)  # midnight of 1 March there
HOURS = 24 * 122 - 1  # March to June, one hour short of the clock change
SEED = 42


def grid():
    x = SEED
    for i in range(HOURS):
        x = (1103515245 * x + 12345) % 2**31
        yield START + timedelta(hours=i), (x >> 8) % 6000 - 2500


TARIFFS = {
    'windows': {
        'standingPerDay': 0.31, 'taxShare': 0.21, 'dayClasses': {'dear': ['2024-03-20', '2024-04-15']},
        'import': [{'rate': 0.17}, {'rate': 0.09, 'start': '22:00', 'end': '08:00'}, {'rate': 0.25, 'days': ['mon', 'tue', 'wed', 'thu', 'fri'], 'start': '18:00', 'end': '22:00'},
                   {'rate': 0.13, 'months': [6]}, {'rate': 0.55, 'dayClass': 'dear'}],
        'export': [{'rate': 0.05}, {'rate': -0.01, 'start': '12:00', 'end': '15:00'}],
    },
    'blocks': {'import': [{'rate': 0.15}, {'rate': 0.22, 'aboveKWh': 300}, {'rate': 0.3, 'aboveKWh': 600}], 'export': [{'rate': 0.04}], 'billingDay': 10},
    'demand': {'import': [{'rate': 0.1}], 'demand': [{'ratePerKW': 4.2, 'windowMinutes': 120, 'start': '08:00', 'end': '20:00', 'days': ['mon', 'tue', 'wed', 'thu', 'fri']}]},
    'net': {'import': [{'rate': 0.2}, {'rate': 0.1, 'start': '00:00', 'end': '06:00'}], 'exportScheme': 'net', 'settleMonth': 5, 'settleRate': 0.03},
}
DAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun']


def within(local, one):
    if 'start' not in one:
        return True
    minute = local.hour * 60 + local.minute
    a, b = (int(one[k][:2]) * 60 + int(one[k][3:]) for k in ('start', 'end'))
    return a <= minute < b if a < b else minute >= a or minute < b


def applies(local, one, tariff):
    return (('days' not in one or DAYS[local.weekday()] in one['days']) and ('months' not in one or local.month in one['months'])
            and ('dayClass' not in one or local.date().isoformat() in tariff['dayClasses'][one['dayClass']]) and within(local, one))


def rate_of(local, lines, tariff):
    rate = 0.0
    for one in lines:
        if 'aboveKWh' not in one and applies(local, one, tariff):
            rate = one['rate']
    return rate


def bills(tariff):
    day = tariff.get('billingDay', 1)
    months = {}
    for at, watts in grid():
        local = at.astimezone(ZONE)
        key = (local.year, local.month) if local.day >= day else ((local.year, local.month - 1) if local.month > 1 else (local.year - 1, 12))
        months.setdefault(key, []).append((local, watts))
    tax = 1 + tariff.get('taxShare', 0)
    carried, rows = 0.0, []
    for key in sorted(months):
        bought = cost = sold = income = demand = 0.0
        windows = {}
        for local, watts in months[key]:
            kwh = watts / 1000
            if kwh > 0:
                edges = sorted((one for one in tariff['import'] if 'aboveKWh' in one), key=lambda one: one['aboveKWh'])
                base = rate_of(local, tariff['import'], tariff)
                at, end = bought, bought + kwh
                points = [one['aboveKWh'] for one in edges if at < one['aboveKWh'] < end] + [end]
                for point in points:
                    own = base
                    for one in edges:
                        if one['aboveKWh'] <= at + 1e-12:
                            own = one['rate']
                    cost += (point - at) * own
                    at = point
                bought = end
                for charge in tariff.get('demand', []):
                    if applies(local, charge, tariff):
                        size = charge['windowMinutes'] // 60
                        windows[(local.date(), local.hour // size)] = windows.get((local.date(), local.hour // size), 0) + kwh / size
            elif kwh < 0:
                sold -= kwh
                income -= kwh * rate_of(local, tariff.get('export', []), tariff)
        for charge in tariff.get('demand', []):
            demand += charge['ratePerKW'] * max(windows.values(), default=0)
        scheme = tariff.get('exportScheme', 'paid')
        if scheme == 'net':
            available = carried + sold
            credited = min(available, bought)
            income = credited * cost / bought if bought else 0
            carried = available - credited
            if tariff.get('settleMonth') == key[1]:
                income += carried * tariff['settleRate']
                carried = 0
        days = {local.date() for local, _ in months[key]}
        rows.append({'importKWh': bought, 'exportKWh': sold, 'importCost': cost * tax, 'exportIncome': income * tax, 'demandCost': demand * tax,
                     'standing': tariff.get('standingPerDay', 0) * len(days) * tax, 'total': (cost + demand - income) * tax})
    return rows


print(json.dumps({name: {'tariff': tariff, 'bills': bills(tariff)} for name, tariff in TARIFFS.items()}, indent=1))
