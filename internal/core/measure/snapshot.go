package measure

import (
	"bufio"
	"bytes"
	"encoding/binary"
	"encoding/gob"
	"errors"
	"fmt"
	"hash/crc32"
	"io"
)

// A snapshot is columns as a file holds them, so that they need not be built of all facts at
// each start: a head, and a frame for each chunk, each with its length before it and its
// checksum behind it.
const (
	snapshotName = "heptad/columns\n"
	frameLimit   = 64 << 20 // in bytes, far more than any frame has
)

// ErrSnapshot says that a file is no snapshot that this program can use.
var ErrSnapshot = errors.New("the snapshot is of no use")

var castagnoli = crc32.MakeTable(crc32.Castagnoli)

// snapshotHead is what stands before the chunks.
type snapshotHead struct {
	Form     int    // of the facts
	Currency string // that sums are of
	Mark     string // what has happened that is in the columns
	Chunks   int
	Came     map[int64][]int64

	What   []what
	Who    []who
	How    []how
	Job    []job
	Rung   []rungOf
	Person []string
	Team   []string
	Set    []string
	Work   []string
	Done   [][]taskOfTeam
}

// WriteSnapshot writes the columns of a view; mark tells later what has happened that is in
// them.
func (v *View) WriteSnapshot(to io.Writer, mark string) error {
	out := bufio.NewWriterSize(to, 1<<20)
	d := &v.dicts
	var head bytes.Buffer
	if err := gob.NewEncoder(&head).Encode(snapshotHead{
		Form, v.currency, mark, len(v.chunks), v.came,
		d.what.values, d.who.values, d.how.values, d.job.values, d.rung.values, d.person.values, d.team.values, d.set.values, d.work.values, d.done,
	}); err != nil {
		return err
	}
	if _, err := out.WriteString(snapshotName); err != nil {
		return err
	}
	if err := writeFrame(out, head.Bytes()); err != nil {
		return err
	}
	var frame []byte
	for _, p := range v.chunks {
		frame = binary.LittleEndian.AppendUint64(frame[:0], uint64(p.from/chunkSize))
		var err error
		for _, list := range p.lists() {
			frame = binary.LittleEndian.AppendUint32(frame, uint32(list.count()))
			if frame, err = binary.Append(frame, binary.LittleEndian, list.values()); err != nil {
				return err
			}
		}
		if err := writeFrame(out, frame); err != nil {
			return err
		}
	}
	return out.Flush()
}

func writeFrame(out io.Writer, frame []byte) error {
	_, err := out.Write(binary.LittleEndian.AppendUint32(nil, uint32(len(frame))))
	if err == nil {
		_, err = out.Write(frame)
	}
	if err == nil {
		_, err = out.Write(binary.LittleEndian.AppendUint32(nil, crc32.Checksum(frame, castagnoli)))
	}
	return err
}

func readFrame(in io.Reader, room []byte) ([]byte, error) {
	var number [4]byte
	if _, err := io.ReadFull(in, number[:]); err != nil {
		return nil, err
	}
	size := binary.LittleEndian.Uint32(number[:])
	if size > frameLimit {
		return nil, fmt.Errorf("a frame of %d bytes", size)
	}
	if cap(room) < int(size) {
		room = make([]byte, size)
	}
	room = room[:size]
	if _, err := io.ReadFull(in, room); err != nil {
		return nil, err
	}
	if _, err := io.ReadFull(in, number[:]); err != nil {
		return nil, err
	}
	if binary.LittleEndian.Uint32(number[:]) != crc32.Checksum(room, castagnoli) {
		return nil, errors.New("a checksum is wrong")
	}
	return room, nil
}

// ReadSnapshot reads columns of sums in a currency with their mark. It is ErrSnapshot when
// another form of facts, another currency or a damaged file is read.
func ReadSnapshot(from io.Reader, currency string) (c *Columns, mark string, err error) {
	defer func() {
		if err != nil {
			err = fmt.Errorf("%w: %w", ErrSnapshot, err)
		}
	}()
	in := bufio.NewReaderSize(from, 1<<20)
	name := make([]byte, len(snapshotName))
	if _, err := io.ReadFull(in, name); err != nil || string(name) != snapshotName {
		return nil, "", errors.Join(err, errors.New("it is another file"))
	}
	frame, err := readFrame(in, nil)
	if err != nil {
		return nil, "", err
	}
	var h snapshotHead
	if err := gob.NewDecoder(bytes.NewReader(frame)).Decode(&h); err != nil {
		return nil, "", err
	}
	if h.Form != Form || h.Currency != currency {
		return nil, "", errors.New("it is of other facts")
	}
	c = NewColumns(currency)
	c.dicts = dicts{
		what: dictOf(h.What), who: dictOf(h.Who), how: dictOf(h.How), job: dictOf(h.Job), rung: dictOf(h.Rung),
		person: dictOf(h.Person), team: dictOf(h.Team), set: dictOf(h.Set), work: dictOf(h.Work), done: h.Done,
	}
	if h.Came != nil {
		c.came = h.Came
	}
	for range h.Chunks {
		if frame, err = readFrame(in, frame); err != nil {
			return nil, "", err
		}
		id, made, err := readChunk(frame)
		if err != nil {
			return nil, "", err
		}
		c.chunks[id] = made
	}
	return c, h.Mark, nil
}

// readChunk reads a chunk with its number.
func readChunk(frame []byte) (id int64, c *chunk, err error) {
	if len(frame) < 8 {
		return 0, nil, io.ErrUnexpectedEOF
	}
	id, frame = int64(binary.LittleEndian.Uint64(frame)), frame[8:]
	c = &chunk{}
	for _, list := range c.lists() {
		if len(frame) < 4 {
			return 0, nil, io.ErrUnexpectedEOF
		}
		n := int(binary.LittleEndian.Uint32(frame))
		if n > len(frame) {
			return 0, nil, io.ErrUnexpectedEOF
		}
		list.make(n)
		read, err := binary.Decode(frame[4:], binary.LittleEndian, list.values())
		if err != nil {
			return 0, nil, err
		}
		frame = frame[4+read:]
	}
	for i := range c.traits {
		c.traits[i] &^= isLed // those of now are marked anew
	}
	c.bound()
	return id, c, nil
}

// numbered is a list of a chunk, whatever size its numbers have.
type numbered interface {
	count() int
	make(n int)
	values() any
}

type listOf[T uint8 | uint16 | uint32] struct{ list *[]T }

func (l listOf[T]) count() int  { return len(*l.list) }
func (l listOf[T]) make(n int)  { *l.list = make([]T, n) }
func (l listOf[T]) values() any { return *l.list }

// lists are all lists of a chunk, in the order in which a snapshot holds them.
func (c *chunk) lists() (all []numbered) {
	for _, list := range []*[]uint8{&c.taskTraits, &c.spellStatus} {
		all = append(all, listOf[uint8]{list})
	}
	for _, list := range []*[]uint16{&c.number, &c.taskRow, &c.taskTeam, &c.spellTeams, &c.ratingRow, &c.rungRow} {
		all = append(all, listOf[uint16]{list})
	}
	for _, list := range []*[]uint32{&c.traits, &c.spellAt} {
		all = append(all, listOf[uint32]{list})
	}
	for _, columns := range [][][]uint32{c.c32[:], c.task[:], c.spell[:], c.rating[:], c.rung[:]} {
		for i := range columns {
			all = append(all, listOf[uint32]{&columns[i]})
		}
	}
	return all
}

// dictOf is the dict of values that are given in the order of their codes.
func dictOf[T comparable](values []T) dict[T] {
	d := dict[T]{codes: make(map[T]uint32, len(values)), values: values}
	for i, value := range values {
		d.codes[value] = uint32(i)
	}
	return d
}
