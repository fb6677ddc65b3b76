package figure

import (
	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/mark"
	"copperlark/core/primitive"
	"copperlark/core/table"
)

// colourPairs colours by two columns: the groups of the first have a hue each, and those of the
// second say how dark it is. Pairs that no row has are left out of the key.
func (b *Dressed) colourPairs(first, second *table.Column) {
	first, second = first.AsGroups(chart.MaxColours), second.AsGroups(chart.MaxColours)
	depths := len(second.Levels)
	hue, depth := b.rows.codes(first), b.rows.codes(second)
	b.codes = make([]int32, len(hue))
	counts := make([]int, len(first.Levels)*depths)
	for i := range hue {
		b.codes[i] = hue[i]*int32(depths) + depth[i]
		counts[b.codes[i]]++
	}
	all := make([]int32, len(first.Codes))
	for i := range all {
		all[i] = table.MissingCode
		if first.Codes[i] >= 0 && second.Codes[i] >= 0 {
			all[i] = first.Codes[i]*int32(depths) + second.Codes[i]
		}
	}
	b.groups = &mark.Groups{
		Column: first.Name + ", " + second.Name,
		Name:   first.ReadableName() + ", " + second.Prose(),
		Codes:  all,
		Rest:   true,
	}
	key := Key{Channels: []string{"colour"}, Name: b.groups.Name}
	for g, level := range first.Levels {
		for d, other := range second.Levels {
			light, dark := colour.PairedAt(g, d)
			b.groups.Levels = append(b.groups.Levels, level+", "+other)
			b.groups.Light = append(b.groups.Light, light)
			b.groups.Dark = append(b.groups.Dark, dark)
			key.Entries = append(key.Entries, Entry{Name: level + ", " + other, Light: light, Dark: dark, Count: counts[g*depths+d]})
		}
	}
	b.channels.Colour = primitive.NewArray(asBytes(b.codes))
	b.groups.Key = b.addKey(key)
	b.channels.Keys.Colour = b.groups.Key
}
