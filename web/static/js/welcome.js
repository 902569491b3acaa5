// The first steps of a house: the time zone of who begins it is proposed.
const zone = document.getElementById('welcome-zone');
if (zone && !zone.value) zone.value = Intl.DateTimeFormat().resolvedOptions().timeZone ?? '';
